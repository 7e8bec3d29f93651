// Compressed glTF opens with the numbers of the plain file: packed here by the libraries' own encoders.
#include "io/character_read.h"
#include "io/file_write.h"
#include "support/suite.h"

#include <draco/compression/encode.h>
#include <meshoptimizer.h>
#include <nlohmann/json.hpp>

#include <QFile>
#include <QTemporaryDir>
#include <QTest>
#include <algorithm>
#include <cstring>

using namespace hobble;
using Json = nlohmann::json;

namespace {

struct Glb {
    Json json;
    std::string bin;
};

Glb readGlb(const char* path) {
    QFile file{QString::fromUtf8(path)};
    if (!file.open(QIODevice::ReadOnly))
        qFatal("no %s", path);
    const std::string bytes = file.readAll().toStdString();
    std::uint32_t length = 0, binLength = 0;
    std::memcpy(&length, bytes.data() + 12, 4);
    std::memcpy(&binLength, bytes.data() + 20 + length, 4);
    return {Json::parse(bytes.substr(20, length)), bytes.substr(28 + length, binLength)};
}

std::string glbBytes(Glb glb) {
    while (glb.bin.size() % 4)
        glb.bin += '\0';
    glb.json["buffers"][0] = {{"byteLength", glb.bin.size()}};
    std::string text = glb.json.dump();
    while (text.size() % 4)
        text += ' ';
    std::string out = "glTF";
    const auto word = [&](std::uint32_t value) { out.append(reinterpret_cast<const char*>(&value), 4); };
    word(2);
    word(static_cast<std::uint32_t>(28 + text.size() + glb.bin.size()));
    word(static_cast<std::uint32_t>(text.size()));
    word(0x4E4F534A);
    out += text;
    word(static_cast<std::uint32_t>(glb.bin.size()));
    word(0x004E4942);
    return out + glb.bin;
}

std::size_t components(const std::string& type) {
    return type == "SCALAR" ? 1 : type == "VEC2" ? 2 : type == "VEC3" ? 3 : type == "VEC4" ? 4 : 16;
}

std::size_t sizeOf(int component) { return component < 5122 ? 1 : component < 5124 ? 2 : 4; }

// Every accessor's values, tightly packed, out of a plain file.
std::string valuesOf(const Glb& glb, const Json& accessor) {
    const Json& view = glb.json["bufferViews"][accessor["bufferView"].get<std::size_t>()];
    const std::size_t each = components(accessor["type"]) * sizeOf(accessor["componentType"]),
                      stride = view.value("byteStride", each), count = accessor["count"];
    const std::size_t from =
        view.value("byteOffset", std::size_t(0)) + accessor.value("byteOffset", std::size_t(0));
    std::string out;
    for (std::size_t i = 0; i < count; ++i)
        out += glb.bin.substr(from + i * stride, each);
    return out;
}

// The same file with a buffer view of its own, compressed, for each accessor that meshes use.
std::string packedByMeshopt(Glb glb) {
    std::string packed;
    Json views = glb.json["bufferViews"];
    std::size_t fallback = 0;
    const auto pack = [&](Json& accessor, bool index) {
        std::string values = valuesOf(glb, accessor);
        std::size_t stride = components(accessor["type"]) * sizeOf(accessor["componentType"]);
        const std::size_t count = accessor["count"];
        if (!index && stride % 4) { // attributes lie at fours
            const std::size_t wide = (stride + 3) / 4 * 4;
            std::string padded;
            for (std::size_t i = 0; i < count; ++i)
                padded += values.substr(i * stride, stride) + std::string(wide - stride, '\0');
            values = padded;
            stride = wide;
        }
        std::vector<unsigned char> out;
        if (index) {
            std::vector<unsigned int> indices(count);
            for (std::size_t i = 0; i < count; ++i)
                std::memcpy(&indices[i], values.data() + i * stride, stride);
            out.resize(meshopt_encodeIndexBufferBound(count, 0x1000000));
            out.resize(meshopt_encodeIndexBuffer(out.data(), out.size(), indices.data(), count));
        } else {
            out.resize(meshopt_encodeVertexBufferBound(count, stride));
            out.resize(meshopt_encodeVertexBuffer(out.data(), out.size(), values.data(), count, stride));
        }
        while (packed.size() % 4)
            packed += '\0';
        Json view{{"buffer", 1},
                  {"byteOffset", fallback},
                  {"byteLength", count * stride},
                  {"extensions",
                   {{"EXT_meshopt_compression",
                     {{"buffer", 0},
                      {"byteOffset", packed.size()},
                      {"byteLength", out.size()},
                      {"byteStride", stride},
                      {"count", count},
                      {"mode", index ? "TRIANGLES" : "ATTRIBUTES"}}}}}};
        if (!index)
            view["byteStride"] = stride;
        fallback += (count * stride + 3) / 4 * 4;
        packed.append(reinterpret_cast<const char*>(out.data()), out.size());
        views.push_back(view);
        accessor["bufferView"] = views.size() - 1;
        accessor["byteOffset"] = 0;
    };
    const std::size_t own = glb.bin.size();
    for (Json& mesh : glb.json["meshes"])
        for (Json& p : mesh["primitives"]) {
            for (const auto& [name, accessor] : p["attributes"].items())
                if (glb.json["accessors"][accessor.get<std::size_t>()]["bufferView"] <
                    glb.json["bufferViews"].size())
                    pack(glb.json["accessors"][accessor.get<std::size_t>()], false);
            pack(glb.json["accessors"][p["indices"].get<std::size_t>()], true);
        }
    for (Json& view : views)
        if (view.contains("extensions")) {
            Json& e = view["extensions"]["EXT_meshopt_compression"];
            e["byteOffset"] = e["byteOffset"].get<std::size_t>() + (own + 3) / 4 * 4;
        }
    while (glb.bin.size() % 4)
        glb.bin += '\0';
    glb.bin += packed;
    glb.json["bufferViews"] = views;
    glb.json["buffers"] = Json::array(
        {{{"byteLength", 0}},
         {{"byteLength", fallback}, {"extensions", {{"EXT_meshopt_compression", {{"fallback", true}}}}}}});
    glb.json["extensionsUsed"] = glb.json["extensionsRequired"] = {"EXT_meshopt_compression"};
    return glbBytes(std::move(glb));
}

// Each primitive packed without loss, its vertices in their order.
std::string packedByDraco(Glb glb) {
    std::string packed;
    for (Json& mesh : glb.json["meshes"])
        for (Json& p : mesh["primitives"]) {
            draco::Mesh m;
            Json ids = Json::object();
            for (const auto& [name, index] : p["attributes"].items()) {
                Json& accessor = glb.json["accessors"][index.get<std::size_t>()];
                const std::string values = valuesOf(glb, accessor);
                const std::size_t count = accessor["count"], n = components(accessor["type"]);
                const int component = accessor["componentType"];
                const auto type = component == 5126   ? draco::DT_FLOAT32
                                  : component == 5123 ? draco::DT_UINT16
                                                      : draco::DT_UINT8;
                m.set_num_points(static_cast<std::uint32_t>(count));
                draco::GeometryAttribute a;
                a.Init(name == "POSITION" ? draco::GeometryAttribute::POSITION
                                          : draco::GeometryAttribute::GENERIC,
                       nullptr, static_cast<std::uint8_t>(n), type, accessor.value("normalized", false),
                       static_cast<std::int64_t>(n * sizeOf(component)), 0);
                const int id = m.AddAttribute(a, true, static_cast<std::uint32_t>(count));
                for (std::uint32_t i = 0; i < count; ++i)
                    m.attribute(id)->SetAttributeValue(draco::AttributeValueIndex(i),
                                                       values.data() + i * n * sizeOf(component));
                ids[name] = m.attribute(id)->unique_id();
                accessor.erase("bufferView");
                accessor.erase("byteOffset");
            }
            Json& indices = glb.json["accessors"][p["indices"].get<std::size_t>()];
            const std::string values = valuesOf(glb, indices);
            const std::size_t each = sizeOf(indices["componentType"]);
            for (std::size_t i = 0; i + 2 < indices["count"].get<std::size_t>(); i += 3) {
                draco::Mesh::Face face;
                for (std::size_t k = 0; k < 3; ++k) {
                    std::uint32_t corner = 0;
                    std::memcpy(&corner, values.data() + (i + k) * each, each);
                    face[static_cast<int>(k)] = draco::PointIndex(corner);
                }
                m.AddFace(face);
            }
            indices.erase("bufferView");
            indices.erase("byteOffset");
            draco::Encoder encoder;
            encoder.SetEncodingMethod(draco::MESH_SEQUENTIAL_ENCODING);
            draco::EncoderBuffer out;
            if (!encoder.EncodeMeshToBuffer(m, &out).ok())
                qFatal("the encoder refuses");
            while (packed.size() % 4)
                packed += '\0';
            glb.json["bufferViews"].push_back({{"buffer", 0},
                                               {"byteOffset", (glb.bin.size() + 3) / 4 * 4 + packed.size()},
                                               {"byteLength", out.size()}});
            packed.append(out.data(), out.size());
            p["extensions"]["KHR_draco_mesh_compression"] = {
                {"bufferView", glb.json["bufferViews"].size() - 1}, {"attributes", ids}};
        }
    while (glb.bin.size() % 4)
        glb.bin += '\0';
    glb.bin += packed;
    glb.json["extensionsUsed"] = glb.json["extensionsRequired"] = {"KHR_draco_mesh_compression"};
    return glbBytes(std::move(glb));
}

} // namespace

class TestCompressedGltf : public QObject {
    Q_OBJECT

    QTemporaryDir folder_;
    const char* plain_ = HOBBLE_DEMO_DIR "/lighthouse-newt.glb";

    Result<Character> opened(const std::string& bytes) {
        const std::string path = (folder_.path() + "/packed.glb").toStdString();
        if (!writeFile(path, bytes))
            qFatal("cannot write");
        return readCharacter(path);
    }

    static void same(const Character& a, const Character& b) {
        QCOMPARE(b.vertexCount(), a.vertexCount());
        QVERIFY(b.neutral == a.neutral);
        QCOMPARE(b.triangles.size(), a.triangles.size());
        for (std::size_t t = 0; t < a.triangles.size();
             ++t) { // an encoder may begin a triangle at another corner
            Triangle x = a.triangles[t], y = b.triangles[t];
            std::rotate(x.begin(), std::min_element(x.begin(), x.end()), x.end());
            std::rotate(y.begin(), std::min_element(y.begin(), y.end()), y.end());
            QVERIFY(x == y);
        }
        QVERIFY(b.weights == a.weights);
        QCOMPARE(b.parts.size(), a.parts.size());
        for (std::size_t p = 0; p < a.parts.size(); ++p)
            QCOMPARE(b.parts[p].targets.size(), a.parts[p].targets.size());
        QVERIFY(b.hash != a.hash); // it is another file
    }

private slots:
    void sameNumbers_data() {
        QTest::addColumn<QString>("file");
        for (const char* name : {"lighthouse-newt", "pack-goat", "badger-postmaster"})
            if (QFile::exists(QStringLiteral(HOBBLE_DEMO_DIR "/%1.glb").arg(QLatin1String(name))))
                QTest::newRow(name) << QStringLiteral(HOBBLE_DEMO_DIR "/%1.glb").arg(QLatin1String(name));
    }
    void sameNumbers() {
        QFETCH(QString, file);
        const std::string path = file.toStdString();
        const auto plain = readCharacter(path);
        QVERIFY2(plain, plain ? "" : plain.error().c_str());
        const Glb glb = readGlb(path.c_str());
        for (const std::string& bytes : {packedByMeshopt(glb), packedByDraco(glb)}) {
            const auto packed = opened(bytes);
            QVERIFY2(packed, packed ? "" : packed.error().c_str());
            same(*plain, *packed);
        }
    }

    // Damage is refused in words, wherever it lies.
    void damage() {
        const Glb glb = readGlb(plain_);
        for (const std::string& whole : {packedByMeshopt(glb), packedByDraco(glb)}) {
            std::uint32_t length = 0;
            std::memcpy(&length, whole.data() + 12, 4);
            const std::size_t own = 28 + length + glb.bin.size();
            std::size_t refused = 0, tried = 0;
            for (std::size_t at = own; at < whole.size(); at += (whole.size() - own) / 40 + 1) {
                std::string broken = whole;
                broken[at] = static_cast<char>(broken[at] ^ 0x5A);
                const auto c = opened(broken);
                ++tried;
                refused += !c;
                if (!c)
                    QVERIFY(!c.error().empty());
            }
            QVERIFY(tried > 20);
            QVERIFY(refused > 0);
            std::string cut = whole.substr(0, whole.size() - 64);
            const auto c = opened(cut);
            QVERIFY(!c);
        }
    }

    // What the file says of its joints is believed before any guess.
    void humanoidMap() {
        for (const bool present : {true, false}) {
            Glb glb = readGlb(HOBBLE_DEMO_DIR "/badger-postmaster.glb");
            std::size_t arm = 0, hand = 0;
            for (std::size_t n = 0; n < glb.json["nodes"].size(); ++n) {
                Json& node = glb.json["nodes"][n];
                if (node.value("name", "") == "upper_arm.L")
                    arm = n;
                if (node.value("name", "") == "hand.L")
                    hand = n;
            }
            glb.json["nodes"][arm]["name"] = "tail_7"; // names that mislead
            glb.json["nodes"][hand]["name"] = "node_r";
            if (present)
                glb.json["extensions"]["VRMC_vrm"]["humanoid"]["humanBones"] = {
                    {"leftUpperArm", {{"node", arm}}}, {"leftHand", {{"node", hand}}}};
            else
                glb.json["extensions"]["VRM"]["humanoid"]["humanBones"] = Json::array(
                    {{{"bone", "leftUpperArm"}, {"node", arm}}, {{"bone", "leftHand"}, {"node", hand}}});
            const auto c = opened(glbBytes(glb));
            QVERIFY2(c, c ? "" : c.error().c_str());
            const auto roles = guessRoles(*c);
            const auto& a = roles[static_cast<std::size_t>(c->skeleton.find("tail_7"))];
            const auto& h = roles[static_cast<std::size_t>(c->skeleton.find("node_r"))];
            QCOMPARE(nameOf(a.role), "shoulder");
            QCOMPARE(nameOf(h.role), "wrist");
            QCOMPARE(a.side, Side::Left);
            QCOMPARE(h.side, Side::Left);
            QCOMPARE(a.confidence, 1.f);
            QCOMPARE(QString::fromLatin1(a.basis), QStringLiteral("the file"));
            QVERIFY(std::any_of(c->notes.begin(), c->notes.end(), [](const std::string& n) {
                return n.find("says so itself") != std::string::npos;
            }));
        }
    }
};

HOBBLE_TEST(TestCompressedGltf)
#include "test_compressed_gltf.moc"
