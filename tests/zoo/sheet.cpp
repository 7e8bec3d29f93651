// hobble-zoo-sheet FILE.png [BODY [POSE]]: the end pose of every motion of a zoo body's plan, to be looked
// at; a character file in the place of BODY is drawn the same way. With "fists", every finger of both hands
// at once.
#include "core/deform/deformer.h"
#include "io/character_read.h"
#include "picture/picture.h"
#include "zoo/zoo.h"

#include "core/pose/motion.h"

#include <QGuiApplication>
#include <QPainter>

#include <cstdio>

using namespace hobble;
using namespace hobble::zoo;

namespace {

Motion fist(const Plan& plan, Side side) {
    Motion out;
    out.name = std::string(nameOf(side)) + " fist";
    for (const Motion& m : plan.motions)
        if (m.side == side && (m.role == Role::Finger || m.role == Role::Thumb) &&
            m.name.find("curl") != std::string::npos)
            for (JointTurn t : m.turns) {
                t.share = 0.85 * m.limit();
                out.turns.push_back(t);
            }
    out.steps = {0, 1, 0};
    return out;
}

} // namespace

int main(int argc, char** argv) {
    qputenv("QT_QPA_PLATFORM", "offscreen");
    QGuiApplication app(argc, argv);
    const QStringList words = QCoreApplication::arguments();
    if (words.size() < 2)
        return 2;
    const std::string wanted = words.size() > 2 ? words[2].toStdString() : "person";
    const std::string pose = words.size() > 3 ? words[3].toStdString() : "as drawn";
    Character c;
    bool found = false;
    for (const Body& body : bodies())
        if (body.name == wanted) {
            c = characterOf(inBindPose(body, pose == "fists" ? "as drawn" : pose), conventions().front());
            c.colour = std::vector<Vec3>(c.vertexCount(), Vec3(0.55f, 0.47f, 0.38f));
            found = true;
        }
    if (!found) {
        auto read = readCharacter(wanted);
        if (!read) {
            std::fprintf(stderr, "%s\n", read.error().c_str());
            return 3;
        }
        c = std::move(*read);
    }
    const auto roles = guessRoles(c);
    Plan plan = defaultPlan(c, roles);
    if (pose == "fists") {
        Plan fists;
        for (Side side : {Side::Left, Side::Right})
            fists.motions.push_back(fist(plan, side));
        plan = fists;
    }
    const bool fists = pose == "fists";
    const int size = fists ? 560 : 150, columns = fists ? 2 : 8;
    const int rows = (static_cast<int>(plan.motions.size()) + columns - 1) / columns;
    QImage sheet(columns * size, std::max(1, rows) * (size + 16), QImage::Format_RGB32);
    sheet.fill(QColor(247, 242, 232));
    QPainter p(&sheet);
    QFont font = p.font();
    font.setPixelSize(fists ? 14 : 10);
    p.setFont(font);
    for (std::size_t m = 0; m < plan.motions.size(); ++m) {
        const Motion& motion = plan.motions[m];
        std::vector<Vec3> posed;
        deform(c, poseAt(c.skeleton, motion, motion.limit()), Skinning::Linear, posed);
        PictureView view = viewOf(c, std::vector<Vec3>(c.neutral.begin(), c.neutral.end()));
        if (fists && !motion.turns.empty()) {
            view.centre = posed.empty()
                              ? Vec3d::Zero()
                              : Vec3d(c.skeleton.place(c.skeleton.parent[motion.turns.front().joint]));
            view.height *= 0.16;
            view.pitch = 25;
        }
        const QPoint at(static_cast<int>(m) % columns * size, static_cast<int>(m) / columns * (size + 16));
        p.drawImage(at, picture(c, posed, view, size, size));
        p.setPen(QColor(29, 42, 51));
        p.drawText(at + QPoint(3, size + 11), QString::fromStdString(wordsFor(motion)));
    }
    p.end();
    return sheet.save(words[1]) ? 0 : 3;
}
