// hobble-pose-sheet CHARACTER.glb OUT.png [PLAN.json]: every pose and shape of the plan at its end, on one
// sheet.
#include "core/deform/deformer.h"
#include "core/pose/plan_diff.h"
#include "io/character_read.h"
#include "io/plan_json.h"
#include "picture/picture.h"

#include <QPainter>

#include <cstdio>

using namespace hobble;

int main(int argc, char** argv) {
    if (argc != 3 && argc != 4) {
        std::fprintf(stderr, "usage: hobble-pose-sheet CHARACTER.glb OUT.png [PLAN.json]\n");
        return 2;
    }
    const auto c = readCharacter(argv[1]);
    const auto plan = !c          ? Result<Plan>(Error{c.error()})
                      : argc == 4 ? readPlan(argv[3], *c)
                                  : Result<Plan>(fullPlan(*c, guessRoles(*c)));
    if (!plan) {
        std::fprintf(stderr, "%s\n", plan.error().c_str());
        return 1;
    }
    std::vector<QImage> panels;
    for (const Motion& m : plan->motions) {
        if (m.span == Span::Degrees)
            continue;
        std::vector<double> at{m.limit()};
        if (m.span == Span::Frames)
            at.assign(m.steps.begin() + 1, m.steps.end() - 1);
        for (double x : at) {
            std::vector<Vec3> posed;
            deform(*c, poseAt(c->skeleton, m, x), Skinning::Linear, posed);
            QImage image = picture(*c, posed, viewOf(*c, posed), 200, 220);
            QPainter(&image).fillRect(0, 0, m.beyond.empty() ? 0 : 200, 4, QColor(150, 60, 40));
            panels.push_back(image);
        }
    }
    const int columns = 6, rows = static_cast<int>((panels.size() + columns - 1) / columns);
    QImage sheet(columns * 200, std::max(rows, 1) * 220, QImage::Format_RGB32);
    sheet.fill(Qt::white);
    QPainter painter(&sheet);
    for (std::size_t i = 0; i < panels.size(); ++i)
        painter.drawImage(static_cast<int>(i % columns) * 200, static_cast<int>(i / columns) * 220,
                          panels[i]);
    painter.end();
    return sheet.save(QString::fromLocal8Bit(argv[2])) ? 0 : 1;
}
