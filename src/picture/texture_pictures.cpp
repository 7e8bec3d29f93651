#include "picture/texture_pictures.h"

#include <QBuffer>
#include <QImageReader>

#include <algorithm>
#include <cmath>
#include <map>
#include <mutex>

namespace hobble {

namespace {

QImage decoded(const std::string& bytes, int most) {
    QByteArray encoded = QByteArray::fromRawData(bytes.data(), static_cast<qsizetype>(bytes.size()));
    QBuffer buffer(&encoded);
    buffer.open(QIODevice::ReadOnly);
    QImageReader reader(&buffer);
    if (QSize size = reader.size(); size.isValid() && std::max(size.width(), size.height()) > most)
        reader.setScaledSize(size.scaled(most, most, Qt::KeepAspectRatio).expandedTo(QSize(1, 1)));
    QImage image = reader.read();
    if (image.isNull()) {
        image = QImage(1, 1, QImage::Format_RGBA8888);
        image.fill(Qt::white);
    }
    return image.convertToFormat(QImage::Format_RGBA8888);
}

int wrapped(double at, int size, Texture::Beyond beyond) {
    const auto i = static_cast<long long>(std::floor(std::clamp(at, -1e9, 1e9) * size));
    if (beyond == Texture::Beyond::Clamp)
        return static_cast<int>(std::clamp<long long>(i, 0, size - 1));
    const long long whole = beyond == Texture::Beyond::Mirror ? 2ll * size : size,
                    rest = ((i % whole) + whole) % whole;
    return static_cast<int>(rest < size ? rest : whole - 1 - rest);
}

} // namespace

std::shared_ptr<const std::vector<QImage>> texturePictures(const Character& c, int most) {
    // As long as somebody draws with them.
    static std::mutex guard;
    struct Known {
        std::weak_ptr<const std::vector<QImage>> pictures;
        std::shared_ptr<const std::string> of; // kept, so that no other comes to lie at its address
    };
    static std::map<std::pair<const std::string*, int>, Known> known;
    if (c.textures.empty())
        return std::make_shared<const std::vector<QImage>>();
    const std::lock_guard lock(guard);
    std::erase_if(known, [](const auto& entry) { return entry.second.pictures.expired(); });
    Known& kept = known[{c.textures.front().picture.get(), most}];
    if (auto there = kept.pictures.lock(); there && there->size() == c.textures.size())
        return there;
    QImageReader::setAllocationLimit(1024);
    auto made = std::make_shared<std::vector<QImage>>();
    std::map<const std::string*, QImage> once; // several textures of one picture
    for (const Texture& t : c.textures) {
        QImage& image = once[t.picture.get()];
        if (image.isNull())
            image = decoded(*t.picture, most);
        made->push_back(image);
    }
    kept = {made, c.textures.front().picture};
    return made;
}

Eigen::Vector4f texelAt(const Texture& texture, const QImage& picture, float u, float v) {
    const int x = wrapped(u, picture.width(), texture.beyond[0]),
              y = wrapped(v, picture.height(), texture.beyond[1]);
    const uchar* p = picture.constScanLine(y) + 4 * x;
    return Eigen::Vector4f(p[0], p[1], p[2], p[3]) / 255;
}

PaintedSkin paintedSkin(const Character& c, int most) {
    PaintedSkin out;
    out.pictures = texturePictures(c, most);
    out.vertexPaint.assign(c.vertexCount(), Vec3::Ones());
    if (c.textureOf.size() != c.triangles.size() || c.cornerUv.size() != c.triangles.size())
        return out;
    out.fileTriangle.resize(c.triangles.size());
    for (std::size_t t = 0; t < out.fileTriangle.size(); ++t)
        out.fileTriangle[t] = static_cast<std::uint32_t>(t);
    std::stable_sort(out.fileTriangle.begin(), out.fileTriangle.end(),
                     [&](std::uint32_t a, std::uint32_t b) { return c.textureOf[a] < c.textureOf[b]; });
    // What a file vertex is here: mostly one, at seams two or three.
    std::vector<std::uint32_t> firstOf(c.vertexCount(), ~0u), next;
    for (std::uint32_t t : out.fileTriangle) {
        const int texture = c.textureOf[t];
        if (out.runs.empty() || out.runs.back().texture != texture)
            out.runs.push_back({texture, out.triangles.size(), 0});
        ++out.runs.back().count;
        Triangle corners{};
        for (std::size_t k = 0; k < 3; ++k) {
            const std::uint32_t v = c.triangles[t][k];
            const Eigen::Vector2f uv(c.cornerUv[t][2 * k], c.cornerUv[t][2 * k + 1]);
            std::uint32_t here = firstOf[v];
            while (here != ~0u && out.uv[here] != uv)
                here = next[here];
            if (here == ~0u) {
                here = static_cast<std::uint32_t>(out.vertex.size());
                if (firstOf[v] == ~0u && texture >= 0) {
                    const auto i = static_cast<std::size_t>(texture);
                    out.vertexPaint[v] = texelAt(c.textures[i], (*out.pictures)[i], uv.x(), uv.y()).head<3>();
                }
                next.push_back(firstOf[v]);
                firstOf[v] = here;
                out.vertex.push_back(v);
                out.uv.push_back(uv);
            }
            corners[k] = here;
        }
        out.triangles.push_back(corners);
    }
    return out;
}

} // namespace hobble
