// hobble-cast-picture DATA FOLDER: for the README, one of the cast in neutral and in five extreme poses of
// its clip.
#include "core/deform/deformer.h"
#include "core/pose/clip_pose.h"
#include "io/character_read.h"
#include "picture/picture.h"

#include <QPainter>

#include <cstdio>

using namespace hobble;

namespace {

struct Sheet {
    const char* name;
    std::vector<double> moments; // seconds of the clip; neutral first
    double yaw, high;            // high: of a panel, in body heights
    int width;
};

bool draw(const std::string& data, const std::string& folder, const Sheet& sheet) {
    auto c = readCharacter(data + "/" + sheet.name + ".glb");
    if (!c) {
        std::fprintf(stderr, "%s\n", c.error().c_str());
        return false;
    }
    Eigen::AlignedBox3f box;
    for (const Vec3& p : c->neutral)
        box.extend(p);
    const int height = 360;
    QImage out(sheet.width * static_cast<int>(sheet.moments.size()), height, QImage::Format_RGB32);
    QPainter painter(&out);
    for (std::size_t i = 0; i < sheet.moments.size(); ++i) {
        std::vector<Vec3> posed;
        deform(*c, poseAt(*c, c->clips.at(0), sheet.moments[i]), Skinning::Linear, posed);
        Eigen::AlignedBox3f now;
        for (const Vec3& p : posed)
            now.extend(p);
        PictureView view;
        view.yaw = i % 2 ? -sheet.yaw : sheet.yaw;
        view.centre = now.center().cast<double>();
        view.centre.y() = box.center().y() + 0.5 * (now.center().y() - box.center().y());
        view.height = sheet.high * box.sizes().y();
        painter.drawImage(static_cast<int>(i) * sheet.width, 0,
                          picture(*c, posed, view, sheet.width, height));
    }
    painter.end();
    return out.save(QString::fromStdString(folder + "/cast-" + sheet.name + ".png"));
}

} // namespace

int main(int argc, char** argv) {
    if (argc != 3) {
        std::fprintf(stderr, "usage: hobble-cast-picture DATA FOLDER\n");
        return 2;
    }
    const Sheet sheets[] = {{"badger-postmaster", {0, 3.2, 5.0, 6.8, 8.8, 11.8}, 28, 1.5, 210}};
    for (const Sheet& s : sheets)
        if (!draw(argv[1], argv[2], s))
            return 1;
    return 0;
}
