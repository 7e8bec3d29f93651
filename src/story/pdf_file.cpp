#include "story/pdf_file.h"
#include "log/log_words.h"

#include <QPdfWriter>
#include <QSaveFile>

namespace hobble {

Result<Done> writePdf(const QString& path, const PdfSheet& sheet,
                      const std::function<void(QPdfWriter&)>& draw) {
    QSaveFile file(path);
    const auto failed = [&] {
        return Error{tr("Cannot write %1: %2.").arg(path, file.errorString()).toStdString()};
    };
    if (!file.open(QIODevice::WriteOnly))
        return failed();
    {
        QPdfWriter writer(&file);
        writer.setPageSize(QPageSize(QPageSize::A4));
        writer.setPageOrientation(sheet.across ? QPageLayout::Landscape : QPageLayout::Portrait);
        writer.setPageMargins(sheet.margins, QPageLayout::Millimeter);
        writer.setResolution(sheet.dotsPerInch);
        writer.setTitle(sheet.title);
        writer.setCreator(QStringLiteral("Hobble"));
        draw(writer);
    }
    return file.commit() ? Result<Done>(Done{}) : Result<Done>(failed());
}

} // namespace hobble
