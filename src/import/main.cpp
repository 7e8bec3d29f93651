// hobble-import FILE SECONDS MEGABYTES: reads a file for another process and tells it on open file 3
// (io/import_process.h). Not meant to be called by hand.
#include "core/words/say.h"
#include "io/import_process.h"

#include <QTranslator>

#include <cstdio>
#include <cstdlib>

namespace {
// Why a file is refused is read in the window, so it is said in its language.
QTranslator& language() {
    static QTranslator of;
    return of;
}
std::string inTheWindowsLanguage(const char* pattern, int n) {
    QString own = language().translate("core", pattern, nullptr, n);
    if (own.isEmpty())
        own = QString::fromUtf8(pattern);
    if (n >= 0)
        own.replace(QStringLiteral("%n"), QString::number(n));
    return own.toStdString();
}
} // namespace

int main(int argc, char** argv) {
    if (argc != 4) {
        std::fprintf(stderr, "hobble-import is started by Hobble\n");
        return 2;
    }
    if (const char* file = std::getenv(hobble::kSentencesOf);
        file && language().load(QString::fromUtf8(file))) {
        hobble::setTranslator(inTheWindowsLanguage);
        hobble::sayNumbersAsTheSystemDoes();
    }
    return hobble::serveImport(argv[1], 3, std::atoi(argv[2]),
                               static_cast<std::uint64_t>(std::strtoull(argv[3], nullptr, 10)));
}
