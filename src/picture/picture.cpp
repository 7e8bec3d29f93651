#include "picture/picture.h"

#include "picture/texture_pictures.h"

#include <algorithm>
#include <cmath>

namespace hobble {

namespace {

constexpr int kTexels = 256; // thumbnails and sheets are small
constexpr float kGamma = 2.2f;

} // namespace

QImage picture(const Character& c, const std::vector<Vec3>& posed, const PictureView& view, int width,
               int height, bool wire, const std::vector<Vec3>& colours) {
    const std::vector<Vec3>& painted = colours.size() == posed.size() ? colours : c.colour.vector();
    const bool textured =
        &painted != &colours && !c.textures.empty() && c.textureOf.size() == c.triangles.size();
    const auto textures = texturePictures(c, textured ? kTexels : 1);
    constexpr int fine = 2; // samples a pixel, each way
    const int w = width * fine, h = height * fine;
    const Eigen::Matrix3d turn = (Eigen::AngleAxisd(radians(view.pitch), Vec3d::UnitX()) *
                                  Eigen::AngleAxisd(radians(-view.yaw), Vec3d::UnitY()))
                                     .toRotationMatrix();
    const double scale = h / view.height;
    std::vector<Vec3d> at, normal(posed.size(), Vec3d::Zero());
    for (const Vec3& p : posed) {
        const Vec3d q = turn * (p.cast<double>() - view.centre);
        at.emplace_back(w / 2.0 + scale * q.x(), h / 2.0 - scale * q.y(), q.z());
    }
    for (const Triangle& t : c.triangles) {
        const Vec3d n = (posed[t[1]] - posed[t[0]]).cross(posed[t[2]] - posed[t[0]]).cast<double>();
        for (auto v : t)
            normal[v] += n;
    }
    std::vector<Vec3> colour(std::size_t(w) * h, Vec3(0.30f, 0.31f, 0.30f));
    std::vector<float> depth(std::size_t(w) * h, -1e9f);
    const Vec3d key = Vec3d(-0.45, 0.65, 0.62).normalized(), fill = Vec3d(0.8, 0.1, 0.5).normalized();
    for (std::size_t face = 0; face < c.triangles.size(); ++face) {
        const Triangle& t = c.triangles[face];
        const int texture = textured ? c.textureOf[face] : -1;
        const Vec3d &a = at[t[0]], &b = at[t[1]], &d = at[t[2]];
        const double area = (b.x() - a.x()) * (d.y() - a.y()) - (b.y() - a.y()) * (d.x() - a.x());
        if (std::abs(area) < 1e-9)
            continue;
        const int x0 = std::max(0, int(std::floor(std::min({a.x(), b.x(), d.x()})))),
                  x1 = std::min(w - 1, int(std::ceil(std::max({a.x(), b.x(), d.x()})))),
                  y0 = std::max(0, int(std::floor(std::min({a.y(), b.y(), d.y()})))),
                  y1 = std::min(h - 1, int(std::ceil(std::max({a.y(), b.y(), d.y()}))));
        for (int y = y0; y <= y1; ++y)
            for (int x = x0; x <= x1; ++x) {
                const double px = x + 0.5, py = y + 0.5;
                const double u = ((b.x() - px) * (d.y() - py) - (b.y() - py) * (d.x() - px)) / area;
                const double v = ((d.x() - px) * (a.y() - py) - (d.y() - py) * (a.x() - px)) / area;
                const double s = 1 - u - v;
                if (u < 0 || v < 0 || s < 0)
                    continue;
                const auto z = static_cast<float>(u * a.z() + v * b.z() + s * d.z());
                const std::size_t i = std::size_t(y) * w + x;
                if (z <= depth[i])
                    continue;
                Vec3d texel = Vec3d::Ones();
                if (texture >= 0) {
                    const auto k = static_cast<std::size_t>(texture);
                    const CornerUv& uv = c.cornerUv[face];
                    const Eigen::Vector4f shown = texelAt(
                        c.textures[k], (*textures)[k], static_cast<float>(u * uv[0] + v * uv[2] + s * uv[4]),
                        static_cast<float>(u * uv[1] + v * uv[3] + s * uv[5]));
                    if (shown.w() < c.textures[k].cutoff)
                        continue;
                    texel = shown.head<3>().array().pow(kGamma).matrix().cast<double>();
                }
                depth[i] = z;
                Vec3d n = turn * (u * normal[t[0]] + v * normal[t[1]] + s * normal[t[2]]);
                n.normalize();
                if (area > 0)
                    n = n.z() < 0 ? Vec3d(-n) : n; // seen from behind: an open sheet
                const Vec3d own = (u * painted[t[0]] + v * painted[t[1]] + s * painted[t[2]])
                                      .cast<double>()
                                      .cwiseProduct(texel);
                const double lit = 0.24 + 0.78 * std::max(0.0, n.dot(key)) +
                                   0.22 * std::max(0.0, n.dot(fill)) +
                                   0.12 * std::pow(1 - std::abs(n.z()), 2.0);
                Vec3d out = own * lit + Vec3d::Constant(0.015);
                if (wire && std::min({u, v, s}) * std::sqrt(std::abs(area)) < 0.9)
                    out *= 0.45;
                colour[i] = out.cast<float>();
            }
    }
    QImage image(width, height, QImage::Format_RGB32);
    for (int y = 0; y < height; ++y)
        for (int x = 0; x < width; ++x) {
            Vec3 sum = Vec3::Zero();
            for (int k = 0; k < fine * fine; ++k)
                sum += colour[std::size_t(y * fine + k / fine) * w + x * fine + k % fine].cwiseMin(1.f);
            sum /= fine * fine;
            auto level = [](float linear) {
                return int(std::lround(255 * std::pow(std::clamp(linear, 0.f, 1.f), 1 / kGamma)));
            };
            image.setPixel(x, y, qRgb(level(sum.x()), level(sum.y()), level(sum.z())));
        }
    return image;
}

PictureView viewOf(const Character& c, const std::vector<Vec3>& posed) {
    PictureView view;
    Eigen::AlignedBox3f now, stood;
    for (const Vec3& p : posed)
        now.extend(p);
    for (const Vec3& p : c.neutral)
        stood.extend(p);
    if (now.isEmpty())
        return view;
    view.centre = now.center().cast<double>();
    view.height =
        1.12 * static_cast<double>(std::max(now.sizes().maxCoeff(), 0.6f * stood.sizes().maxCoeff()));
    return view;
}

} // namespace hobble
