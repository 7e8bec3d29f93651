// log_writer LOG comments COUNT NAME: writes so many numbered comments on the first defect.
// log_writer LOG: logs and changes defects without end, saying each number once it is safely written. The
// kill test kills it at any moment and looks at what is left.
#include "log/production_log.h"

#include <QCoreApplication>
#include <cstdio>
#include <cstdlib>

using namespace hobble;

int main(int argc, char** argv) {
    QCoreApplication app(argc, argv);
    if (argc != 2 && argc != 5)
        return 2;
    auto log = ProductionLog::open(QString::fromLocal8Bit(argv[1]), 5000);
    if (!log) {
        std::fprintf(stderr, "%s\n", log.error().c_str());
        return 1;
    }
    if (argc == 5) {
        for (int i = 0; i < std::atoi(argv[3]); ++i)
            if (auto said = (*log)->change(1, QStringLiteral("comment"), QString::number(i), 0,
                                           QString::fromLocal8Bit(argv[4]));
                !said) {
                std::fprintf(stderr, "%s\n", said.error().c_str());
                return 1;
            }
        return 0;
    }
    const auto build =
        (*log)->build(QStringLiteral("badger"), QStringLiteral("abc"), QStringLiteral("/b.glb"));
    while (build) {
        DefectFacts f;
        f.buildId = build->id;
        f.joint = f.side = f.role = f.part = f.kind = f.motion = f.motionName = f.limb = f.what =
            QStringLiteral("x");
        f.pose = f.camera = f.marks = "{}";
        f.picture = QByteArray(20000, 'p');
        const auto id = (*log)->addDefect(f, 2, QStringLiteral("writer"));
        if (!id) {
            std::fprintf(stderr, "%s\n", id.error().c_str());
            return 1;
        }
        const auto v = (*log)->change(*id, QStringLiteral("assignee"), QStringLiteral("Ines"),
                                      (*log)->defect(*id)->version, QStringLiteral("writer"));
        if (!v)
            return 1;
        std::printf("%lld\n", static_cast<long long>(*id));
        std::fflush(stdout);
    }
    return 1;
}
