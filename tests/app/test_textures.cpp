// A character's own colours are those of its file: its pictures, where they belong on the skin, in the
// viewport and in pictures made without one; what is missing is told once.
#include "app/view/viewport.h"
#include "io/character_read.h"
#include "io/scene_bytes.h"
#include "picture/picture.h"
#include "support/suite.h"

#include <nlohmann/json.hpp>

#include <QBuffer>
#include <QFile>
#include <QTemporaryDir>

using namespace hobble;
using nlohmann::json;

class TestTextures : public QObject {
    Q_OBJECT

    QTemporaryDir folder_;

    QString write(const QString& name, const QByteArray& bytes) {
        QFile f(folder_.filePath(name));
        if (!f.open(QIODevice::WriteOnly) || f.write(bytes) != bytes.size())
            qFatal("cannot write");
        return f.fileName();
    }

    // Red and green above, blue and nothing below.
    static QByteArray fourFields(const char* format = "PNG") {
        QImage image(64, 64, QImage::Format_ARGB32);
        for (int y = 0; y < 64; ++y)
            for (int x = 0; x < 64; ++x)
                image.setPixel(
                    x, y, y < 32 ? (x < 32 ? 0xffff0000 : 0xff00ff00) : (x < 32 ? 0xff0000ff : 0x00ffffff));
        QByteArray out;
        QBuffer buffer(&out);
        buffer.open(QIODevice::WriteOnly);
        if (!image.save(&buffer, format))
            qFatal("no such format");
        return out;
    }

    // A sheet that stands upright, seen from the front.
    static json sheet(const std::string& imageUri, const json& material = json::object()) {
        QByteArray data;
        const auto floats = [&](std::initializer_list<float> xs) {
            data.append(reinterpret_cast<const char*>(xs.begin()),
                        static_cast<qsizetype>(xs.size() * sizeof(float)));
        };
        floats({-0.5f, 0, 0, 0.5f, 0, 0, -0.5f, 1, 0, 0.5f, 1, 0}); // 48
        floats({0, 1, 1, 1, 0, 0, 1, 0});                           // 32
        for (int v = 0; v < 4; ++v) // all by the joint that stands at the origin
            floats({1, 0, 0, 0});   // 64
        for (int v = 0; v < 4; ++v)
            data.append(QByteArray("\0\1\0\0", 4)); // 16
        for (quint16 i : {0, 1, 3, 0, 3, 2})
            data.append(reinterpret_cast<const char*>(&i), 2); // 12
        json views = json::array();
        for (const auto& [at, size] : {std::pair(0, 48), {48, 32}, {80, 64}, {144, 16}, {160, 12}})
            views.push_back({{"buffer", 0}, {"byteOffset", at}, {"byteLength", size}});
        json m{{"name", "coat"}, {"pbrMetallicRoughness", {{"baseColorTexture", {{"index", 0}}}}}};
        m.merge_patch(material);
        return {{"asset", {{"version", "2.0"}}},
                {"buffers",
                 {{{"byteLength", data.size()},
                   {"uri", "data:application/octet-stream;base64," + data.toBase64().toStdString()}}}},
                {"bufferViews", views},
                {"accessors",
                 {{{"bufferView", 0},
                   {"componentType", 5126},
                   {"type", "VEC3"},
                   {"count", 4},
                   {"min", {-0.5, 0, 0}},
                   {"max", {0.5, 1, 0}}},
                  {{"bufferView", 1}, {"componentType", 5126}, {"type", "VEC2"}, {"count", 4}},
                  {{"bufferView", 2}, {"componentType", 5126}, {"type", "VEC4"}, {"count", 4}},
                  {{"bufferView", 3}, {"componentType", 5121}, {"type", "VEC4"}, {"count", 4}},
                  {{"bufferView", 4}, {"componentType", 5123}, {"type", "SCALAR"}, {"count", 6}}}},
                {"images", {{{"uri", imageUri}}}},
                {"textures", {{{"source", 0}}}},
                {"materials", {m}},
                {"meshes",
                 {{{"primitives",
                    {{{"attributes", {{"POSITION", 0}, {"TEXCOORD_0", 1}, {"WEIGHTS_0", 2}, {"JOINTS_0", 3}}},
                      {"indices", 4},
                      {"material", 0}}}}}}},
                {"nodes",
                 {{{"name", "lower"}, {"children", {1}}},
                  {{"name", "upper"}, {"translation", {0, 0.5, 0}}},
                  {{"name", "sheet"}, {"mesh", 0}, {"skin", 0}}}},
                {"skins", {{{"joints", {0, 1}}}}},
                {"scenes", {{{"nodes", {0, 2}}}}},
                {"scene", 0}};
    }

    std::shared_ptr<const Character> read(const json& file,
                                          const QString& name = QStringLiteral("sheet.gltf")) {
        auto c = readCharacter(write(name, QByteArray::fromStdString(file.dump())).toStdString());
        if (!c)
            qFatal("%s", c.error().c_str());
        return std::make_shared<const Character>(std::move(*c));
    }

    // Which of the colours stands out: "red", "green", "blue"; "white" where none does.
    static QString standsOut(QRgb c) {
        const int r = qRed(c), g = qGreen(c), b = qBlue(c), most = std::max({r, g, b});
        if (r + g + b - most > most)
            return QStringLiteral("white");
        return most == r   ? QStringLiteral("red")
               : most == g ? QStringLiteral("green")
                           : QStringLiteral("blue");
    }

    // What is seen in the four fields of the sheet, from the front, without a window.
    static QStringList fieldsOf(const Character& c) {
        PictureView view;
        view.yaw = view.pitch = 0;
        view.centre = Vec3d(0, 0.5, 0);
        view.height = 1;
        const QImage image = picture(c, c.neutral.vector(), view, 100, 100);
        QStringList out;
        for (const QPoint at : {QPoint(25, 25), QPoint(75, 25), QPoint(25, 75), QPoint(75, 75)})
            out << standsOut(image.pixel(at));
        return out;
    }
    const QStringList fields_{QStringLiteral("red"), QStringLiteral("green"), QStringLiteral("blue"),
                              QStringLiteral("white")};

private slots:
    void whereTheyBelong() {
        write(QStringLiteral("coat.png"), fourFields());
        const auto c = read(sheet("coat.png"));
        QVERIFY(c->notes.empty() || c->notes.front().find("colours") == std::string::npos);
        QCOMPARE(c->textures.size(), std::size_t(1));
        QCOMPARE(c->textureOf.size(), c->triangles.size());
        QCOMPARE(fieldsOf(*c), fields_);
        // within the file, as a JPEG, too
        const auto within =
            read(sheet("data:image/jpeg;base64," + fourFields("JPEG").toBase64().toStdString()));
        QCOMPARE(fieldsOf(*within).first(3), fields_.first(3));
    }

    void placedAnew() { // half a picture to the right, twice as often, mirrored
        write(QStringLiteral("coat.png"), fourFields());
        const json half{{"extensions", {{"KHR_texture_transform", {{"offset", {0.5, 0}}}}}}};
        const auto moved = read(sheet("coat.png", {{"pbrMetallicRoughness", {{"baseColorTexture", half}}}}));
        QCOMPARE(fieldsOf(*moved), (QStringList{fields_[1], fields_[0], fields_[3], fields_[2]}));
        json clamped = sheet("coat.png", {{"pbrMetallicRoughness", {{"baseColorTexture", half}}}});
        clamped["samplers"] = {{{"wrapS", 33071}}};
        clamped["textures"][0]["sampler"] = 0;
        QCOMPARE(fieldsOf(*read(clamped)), (QStringList{fields_[1], fields_[1], fields_[3], fields_[3]}));
        clamped["samplers"] = {{{"wrapS", 33648}}};
        QCOMPARE(fieldsOf(*read(clamped)), (QStringList{fields_[1], fields_[1], fields_[3], fields_[3]}));
    }

    void whatIsCutOutIsNotThere() {
        write(QStringLiteral("coat.png"), fourFields());
        const auto c = read(sheet("coat.png", {{"alphaMode", "MASK"}, {"alphaCutoff", 0.5}}));
        QCOMPARE(c->textures[0].cutoff, 0.5f);
        PictureView view;
        view.yaw = view.pitch = 0;
        view.centre = Vec3d(0, 0.5, 0);
        view.height = 2; // with paper around it
        const QImage image = picture(*c, c->neutral.vector(), view, 100, 100);
        QCOMPARE(image.pixel(62, 62), image.pixel(5, 5)); // the paper
        QVERIFY(image.pixel(38, 62) != image.pixel(5, 5));
    }

    void missingIsToldOnce() {
        json file = sheet("gone.png");
        file["materials"].push_back(file["materials"][0]);
        file["materials"][1]["name"] = "trousers";
        file["meshes"][0]["primitives"].push_back(file["meshes"][0]["primitives"][0]);
        file["meshes"][0]["primitives"][1]["material"] = 1;
        const auto c = read(file);
        int told = 0;
        for (const std::string& note : c->notes)
            told += note.find("gone.png") != std::string::npos;
        QCOMPARE(told, 1);
        QVERIFY(c->textures.empty() && c->textureOf.empty());
        QCOMPARE(fieldsOf(*c), QStringList(4, QStringLiteral("white")));
        // neither is one that only looks like a picture the end of anything
        const auto broken = read(
            sheet("data:image/png;base64," + QByteArray("\x89PNG\r\n\x1a\nno").toBase64().toStdString()));
        QCOMPARE(fieldsOf(*broken), QStringList(4, QStringLiteral("white")));
    }

    void seamsAreCornersOfTheirOwn() {
        write(QStringLiteral("coat.png"), fourFields());
        auto c = std::make_shared<Character>(*read(sheet("coat.png")));
        PaintedSkin skin = paintedSkin(*c, 64);
        QCOMPARE(skin.vertex.size(), std::size_t(4));
        QCOMPARE(skin.runs.size(), std::size_t(1));
        std::vector<CornerUv> uv(c->cornerUv.begin(), c->cornerUv.end());
        uv[1] = {0.25f, 0.25f, 0.25f, 0.25f, 0.25f, 0.25f}; // the second triangle all in one field
        c->cornerUv = SharedVector<CornerUv>(uv);
        skin = paintedSkin(*c, 64);
        QCOMPARE(skin.vertex.size(), std::size_t(6)); // three of which two are at the seam
        for (std::size_t t = 0; t < skin.triangles.size(); ++t)
            for (std::size_t k = 0; k < 3; ++k)
                QCOMPARE(skin.vertex[skin.triangles[t][k]], c->triangles[skin.fileTriangle[t]][k]);
    }

    void asBytesBetweenProcesses() {
        ImportedScene scene;
        scene.scene.textures.push_back({"coat",
                                        std::make_shared<const std::string>("picture"),
                                        {Texture::Beyond::Mirror, Texture::Beyond::Clamp},
                                        0.25f});
        const ImportedScene back = unpackScene(packScene(scene));
        QCOMPARE(back.scene.textures.size(), std::size_t(1));
        QCOMPARE(*back.scene.textures[0].picture, std::string("picture"));
        QVERIFY(back.scene.textures[0].beyond == scene.scene.textures[0].beyond);
        QCOMPARE(back.scene.textures[0].cutoff, 0.25f);
    }

    void inTheViewport() {
        write(QStringLiteral("coat.png"), fourFields());
        PoseView view;
        Viewport viewport(&view);
        viewport.resize(400, 400);
        viewport.show();
        QVERIFY(QTest::qWaitForWindowExposed(&viewport));
        const auto subject = std::make_shared<const Subject>(prepareSubject(read(sheet("coat.png"))));
        view.setSubject(subject);
        AskedPose asked;
        asked.pose = Pose::neutral(subject->character->skeleton);
        view.show(asked);
        QTRY_VERIFY(view.frame());
        Shown shown = viewport.shown();
        shown.skeleton = false;
        viewport.setShown(shown);
        Camera camera = viewport.camera();
        camera.yaw = camera.pitch = 0;
        viewport.setCamera(camera, false);
        const auto seen = [&] {
            const QImage image = QImage::fromData(viewport.picture());
            QStringList out;
            for (const Vec3d& at :
                 {Vec3d(-0.25, 0.75, 0), Vec3d(0.25, 0.75, 0), Vec3d(-0.25, 0.25, 0), Vec3d(0.25, 0.25, 0)})
                out << standsOut(image.pixel((viewport.project(at) * image.devicePixelRatio()).toPoint()));
            return out;
        };
        viewport.setColouring(Colouring::Own);
        QTRY_COMPARE(seen(), fields_); // once they are decoded
        viewport.setPartShown(0, false);
        const QImage hidden = QImage::fromData(viewport.picture());
        QCOMPARE(hidden.pixel((viewport.project(Vec3d(-0.25, 0.75, 0))).toPoint()), hidden.pixel(2, 2));
        viewport.setPartShown(0, true);
        QTRY_COMPARE(seen(), fields_);
        viewport.setColouring(Colouring::Weight); // a measure is seen as itself
        QTRY_VERIFY(seen() != fields_);
        QVERIFY(!seen().contains(QStringLiteral("red")));
    }
};

HOBBLE_TEST(TestTextures)
#include "test_textures.moc"
