// The demo characters written in other formats (by the importer library's own exporter, or by hand) and read
// again: the same joints, weights, places, targets and clips, in metres with Y up.
#include "core/intake/check.h"
#include "core/run/run.h"
#include "io/character_read.h"
#include "support/suite.h"
#include "support/tube.h"

#include <assimp/Exporter.hpp>
#include <assimp/Importer.hpp>
#include <assimp/scene.h>

#include <QDirIterator>
#include <QTemporaryDir>
#include <QTest>
#include <fstream>
#include <memory>

using namespace hobble;
using namespace hobble::test;

class TestOtherFormats : public QObject {
    Q_OBJECT
    QTemporaryDir folder_;

    static constexpr const char* demo = HOBBLE_DEMO_DIR "/pack-goat.glb";
    static constexpr const char* models = "/usr/share/assimp/models";

    // Of its own exports the library reads clips from FBX text only.
    std::string exported(const char* format, const char* suffix, const char* name = "pack goat") {
        Assimp::Importer importer;
        importer.ReadFile(demo, 0);
        aiScene* scene = importer.GetOrphanedScene();
        if (!scene)
            qFatal("%s", importer.GetErrorString());
        const std::unique_ptr<aiScene> owned(scene);
        const unsigned clips = scene->mNumAnimations;
        if (format != std::string("fbxa"))
            scene->mNumAnimations = 0;
        const std::string path = (folder_.path() + "/" + name + "." + suffix).toStdString();
        Assimp::Exporter exporter;
        if (exporter.Export(scene, format, path) != aiReturn_SUCCESS)
            qFatal("%s", exporter.GetErrorString());
        scene->mNumAnimations = clips;
        return path;
    }
    std::string written(const char* name, const std::string& text) {
        const std::string path = (folder_.path() + "/" + name).toStdString();
        std::ofstream(path, std::ios::binary) << text;
        return path;
    }
    static bool notes(const Character& c, const char* words) {
        return std::any_of(c.notes.begin(), c.notes.end(),
                           [&](const std::string& n) { return n.find(words) != std::string::npos; });
    }

    // What each character's skin says at a place: weights by joint name, of the vertex nearest to it.
    static std::map<std::string, float> weightsNear(const Character& c, const Vec3& p) {
        std::uint32_t best = 0;
        for (std::uint32_t v = 0; v < c.vertexCount(); ++v)
            if ((c.neutral[v] - p).squaredNorm() < (c.neutral[best] - p).squaredNorm())
                best = v;
        std::map<std::string, float> out;
        for (std::uint32_t i = c.weights.first[best]; i < c.weights.first[best + 1]; ++i)
            out[c.skeleton.name[c.weights.joint[i]]] = c.weights.weight[i];
        return out;
    }

private slots:
    void roundTrip_data() {
        QTest::addColumn<QString>("format");
        QTest::addColumn<QString>("suffix");
        QTest::addColumn<double>("tolerance");
        QTest::newRow("COLLADA") << "collada"
                                 << "dae" << 1e-4;
        QTest::newRow("FBX text") << "fbxa"
                                  << "FBX" << 1e-4; // of binary FBX and X there are public models below
    }
    void roundTrip() {
        QFETCH(QString, format);
        QFETCH(QString, suffix);
        QFETCH(double, tolerance);
        const Character was = *readCharacter(demo);
        const std::string path = exported(qPrintable(format), qPrintable(suffix));
        const auto read = readCharacter(path);
        QVERIFY2(read.ok(), read.error().c_str());
        const Character& is = *read;
        // The exporter writes X in its own unit and says nothing of FBX's: the scale is what it settled on.
        const double unit = is.extent() / was.extent();
        QVERIFY2(format != "collada" || std::abs(unit - 1) < 1e-3, qPrintable(QString::number(unit)));

        std::size_t joints = 0;
        for (int j = 0; j < was.skeleton.size(); ++j) {
            const int k = is.skeleton.find(was.skeleton.name[j]);
            QVERIFY2(k >= 0, was.skeleton.name[j].c_str()); // none is lost, weighted or not
            const int p = was.skeleton.parent[j];
            if (p >= 0) {
                int up = is.skeleton.parent[k];
                QVERIFY(up >= 0);
                QCOMPARE(is.skeleton.name[up], was.skeleton.name[p]);
            }
            const Vec3d off =
                is.skeleton.neutralWorld[k].translation() - unit * was.skeleton.neutralWorld[j].translation();
            QVERIFY2(off.norm() < 10 * tolerance * was.extent() * unit, was.skeleton.name[j].c_str());
            ++joints;
        }
        QCOMPARE(is.parts.size(), was.parts.size());
        int compared = 0;
        for (std::uint32_t v = 0; v < was.vertexCount(); v += 211) {
            const auto a = weightsNear(was, was.neutral[v]),
                       b = weightsNear(is, static_cast<float>(unit) * was.neutral[v]);
            QVERIFY(a.size() == b.size()); // more than four are kept
            for (const auto& [name, w] : a)
                QVERIFY(b.count(name) && std::abs(b.at(name) - w) < 1e-3f);
            ++compared;
        }
        QVERIFY(compared > 50 && joints > 30);
        QVERIFY(!is.hash.empty() && is.hash != was.hash);
        QCOMPARE(is.name, std::string("pack goat"));
        // and it is tested as the original is
        const Subject s = subjectOf(is), t = subjectOf(was);
        QCOMPARE(defaultPlan(is, s.roles).motions.size(), defaultPlan(was, t.roles).motions.size());
    }

    void moreThanFourInfluencesAndClips() {
        const Character was = *readCharacter(demo), is = *readCharacter(exported("fbxa", "fbx"));
        std::size_t most = 0, mostWas = 0;
        for (std::size_t v = 0; v < is.vertexCount(); ++v)
            most = std::max<std::size_t>(most, is.weights.first[v + 1] - is.weights.first[v]);
        for (std::size_t v = 0; v < was.vertexCount(); ++v)
            mostWas = std::max<std::size_t>(mostWas, was.weights.first[v + 1] - was.weights.first[v]);
        QCOMPARE(most, mostWas);
        QCOMPARE(is.clips.size(), was.clips.size());
    }

    void unitsAndAxesThatTheFileTells() {
        std::string text;
        {
            std::ifstream in(exported("collada", "dae"));
            text.assign(std::istreambuf_iterator<char>(in), {});
        }
        const double tall = subjectOf(*readCharacter(demo)).body.height;
        const auto unit = text.find("<unit");
        QVERIFY(unit != std::string::npos);
        std::string inches = text;
        inches.replace(unit, inches.find('>', unit) - unit + 1, "<unit name=\"inch\" meter=\"0.0254\" />");
        const auto small = readCharacter(written("inches.dae", inches));
        QVERIFY2(small.ok(), small.error().c_str());
        QVERIFY(std::abs(subjectOf(*small).body.height / tall - 0.0254) < 1e-4);
        QVERIFY(notes(*small, "a unit is 0.0254 m"));
        std::string z = text;
        const auto up = z.find("Y_UP");
        QVERIFY(up != std::string::npos);
        z.replace(up, 4, "Z_UP");
        const auto lying = readCharacter(written("z.dae", z));
        QVERIFY(lying.ok() && notes(*lying, "Z is up"));
        // what stood along the file's Y lies along −Z now
        const Vec3d there = lying->skeleton.neutralWorld[lying->skeleton.find("head")].translation(),
                    here = readCharacter(demo)
                               ->skeleton.neutralWorld[readCharacter(demo)->skeleton.find("head")]
                               .translation();
        QVERIFY((there - Vec3d(here.x(), here.z(), -here.y())).norm() < 1e-3);
        // and what the lead says goes before what the file says
        ReadSettings asked;
        asked.metresPerUnit = 0.01;
        asked.up = 1;
        const auto told = readCharacter(written("z.dae", z), asked);
        QVERIFY(told.ok() && notes(*told, "as asked"));
        QVERIFY(std::abs(subjectOf(*told).body.height / tall - 0.01) < 1e-4);
    }

    // By hand: MD5 has weights with places of their own, and joints that hold nothing.
    void md5() {
        std::string joints =
            "joints {\n\t\"origin\"\t-1 ( 0 0 0 ) ( 0 0 0 )\n\t\"pelvis\" 0 ( 0 0 40 ) ( 0 0 0 )\n"
            "\t\"spine\" 1 ( 0 0 55 ) ( 0 0 0 )\n\t\"head\" 2 ( 0 0 70 ) ( 0 0 0 )\n}\n";
        std::string mesh =
            "mesh {\n\tshader \"x\"\n\tnumverts 3\n\tvert 0 ( 0 0 ) 0 2\n\tvert 1 ( 0 1 ) 2 1\n"
            "\tvert 2 ( 1 0 ) 3 1\n\tnumtris 1\n\ttri 0 0 1 2\n\tnumweights 4\n"
            "\tweight 0 1 0.75 ( 5 0 0 )\n\tweight 1 2 0.25 ( 5 0 -15 )\n\tweight 2 2 1 ( 5 0 0 )\n"
            "\tweight 3 3 1 ( 0 0 0 )\n}\n";
        const auto c = readCharacter(
            written("man.md5mesh",
                    "MD5Version 10\ncommandline \"\"\n\nnumJoints 4\nnumMeshes 1\n\n" + joints + mesh));
        QVERIFY2(c.ok(), c.error().c_str());
        QCOMPARE(c->skeleton.size(), 4);
        QVERIFY(c->skeleton.find("origin") >= 0); // holds nothing, and is kept
        QVERIFY(notes(*c, "does not say its unit"));
        QCOMPARE(c->vertexCount(), std::size_t(3));
        std::map<std::string, float> own = weightsNear(*c, c->neutral[0]);
        bool found = false;
        for (std::uint32_t v = 0; v < 3; ++v)
            if (c->weights.first[v + 1] - c->weights.first[v] == 2) {
                own = weightsNear(*c, c->neutral[v]);
                found = std::abs(own["pelvis"] - 0.75f) < 1e-5f && std::abs(own["spine"] - 0.25f) < 1e-5f;
            }
        QVERIFY(found);
    }

    void smd() {
        const auto c = readCharacter(
            written("strip.smd", "version 1\nnodes\n0 \"root\" -1\n1 \"tip\" 0\n2 \"marker\" 1\nend\n"
                                 "skeleton\ntime 0\n0 0 0 0 0 0 0\n1 0 0 1 0 0 0\n2 0 0 1 0 0 0\nend\n"
                                 "triangles\nskin\n"
                                 "0 0 0 0 0 1 0 0 0 2 0 0.5 1 0.5\n0 1 0 0 0 1 0 1 0 1 0 1\n"
                                 "1 0 0 2 0 1 0 0 1 1 1 1\nend\n"));
        QVERIFY2(c.ok(), c.error().c_str());
        QVERIFY(c->skeleton.find("root") >= 0 && c->skeleton.find("tip") >= 0);
        QVERIFY(c->skeleton.parent[c->skeleton.find("tip")] == c->skeleton.find("root"));
        QCOMPARE(c->vertexCount(), std::size_t(3));
    }

    // Chunks by hand: a mesh under a joint with one below it.
    void b3d() {
        const auto u32 = [](std::uint32_t x) { return std::string(reinterpret_cast<const char*>(&x), 4); };
        const auto f32 = [](std::initializer_list<float> xs) {
            std::string out;
            for (float x : xs)
                out.append(reinterpret_cast<const char*>(&x), 4);
            return out;
        };
        const auto chunk = [&](const char* tag, const std::string& body) {
            return std::string(tag, 4) + u32(static_cast<std::uint32_t>(body.size())) + body;
        };
        const auto node = [&](const char* name, float y, const std::string& rest) {
            return chunk("NODE", std::string(name) + '\0' + f32({0, y, 0, 1, 1, 1, 1, 0, 0, 0}) + rest);
        };
        const std::string vrts =
            chunk("VRTS", u32(0) + u32(0) + u32(0) + f32({0, 0, 0, 1, 0, 0, 0, 1, 0, 1, 1.5f, 0}));
        const std::string tris =
            chunk("TRIS", u32(0xFFFFFFFF) + u32(0) + u32(1) + u32(2) + u32(1) + u32(3) + u32(2));
        const auto bone = [&](std::initializer_list<std::pair<std::uint32_t, float>> list) {
            std::string body;
            for (const auto& [v, w] : list)
                body += u32(v) + f32({w});
            return chunk("BONE", body);
        };
        const std::string tip = node("tip", 1, bone({{2, 0.5f}, {3, 1}}));
        const std::string base = node("base", 0, bone({{0, 1}, {1, 1}, {2, 0.5f}}) + tip);
        const std::string mesh = node("strip", 0, chunk("MESH", u32(0xFFFFFFFF) + vrts + tris) + base);
        const auto c = readCharacter(written("strip.b3d", chunk("BB3D", u32(1) + mesh)));
        QVERIFY2(c.ok(), c.error().c_str());
        QVERIFY(c->skeleton.find("base") >= 0 && c->skeleton.find("tip") >= 0);
        QCOMPARE(c->vertexCount(), std::size_t(4));
        int two = 0;
        for (std::uint32_t v = 0; v < 4; ++v)
            two += c->weights.first[v + 1] - c->weights.first[v] == 2;
        QCOMPARE(two, 1);
    }

    // Characters nobody here made, their joints told by hand: where the flesh is, whatever the name says (a
    // "Neck" that holds the head, a tail of hair).
    void rolesOfPublicModels() {
        if (!QFile::exists(models))
            QSKIP("assimp-testmodels is not installed");
        struct Told {
            const char *file, *joint, *side, *role;
        };
        const std::vector<Told> truth{
            {"X/BCN_Epileptic.X", "B_Clavicle_Left", "left", "collarbone"},
            {"X/BCN_Epileptic.X", "B_UpperArm_Left", "left", "shoulder"},
            {"X/BCN_Epileptic.X", "B_ForeArm_Left", "left", "elbow"},
            {"X/BCN_Epileptic.X", "B_Hand_Left", "left", "wrist"},
            {"X/BCN_Epileptic.X", "B_Finger1_Left", "left", "finger"},
            {"X/BCN_Epileptic.X", "B_Finger3_Left", "left", "finger"},
            {"X/BCN_Epileptic.X", "B_Thumb1_Left", "left", "thumb"},
            {"X/BCN_Epileptic.X", "B_Thumb2_Left", "left", "thumb"},
            {"X/BCN_Epileptic.X", "B_Hip_Left", "left", "hip"},
            {"X/BCN_Epileptic.X", "B_Knee_Left", "left", "knee"},
            {"X/BCN_Epileptic.X", "B_Ankle_Left", "left", "ankle"},
            {"X/BCN_Epileptic.X", "B_Toe_Left", "left", "toe"},
            {"X/BCN_Epileptic.X", "B_Eye_Left", "left", "eye"},
            {"X/BCN_Epileptic.X", "B_EyeBrow_Left", "left", "brow"},
            {"X/BCN_Epileptic.X", "B_UpperEyeLid_Left", "left", "lid"},
            {"X/BCN_Epileptic.X", "B_LowerEyeLid_Left", "left", "lid"},
            {"X/BCN_Epileptic.X", "B_MouthCorner_Left", "left", "lip"},
            {"X/BCN_Epileptic.X", "B_Cheek_Left", "left", "helper"},
            {"X/BCN_Epileptic.X", "B_Clavicle_Right", "right", "collarbone"},
            {"X/BCN_Epileptic.X", "B_UpperArm_Right", "right", "shoulder"},
            {"X/BCN_Epileptic.X", "B_ForeArm_Right", "right", "elbow"},
            {"X/BCN_Epileptic.X", "B_Hand_Right", "right", "wrist"},
            {"X/BCN_Epileptic.X", "B_Finger1_Right", "right", "finger"},
            {"X/BCN_Epileptic.X", "B_Finger3_Right", "right", "finger"},
            {"X/BCN_Epileptic.X", "B_Thumb1_Right", "right", "thumb"},
            {"X/BCN_Epileptic.X", "B_Thumb2_Right", "right", "thumb"},
            {"X/BCN_Epileptic.X", "B_Hip_Right", "right", "hip"},
            {"X/BCN_Epileptic.X", "B_Knee_Right", "right", "knee"},
            {"X/BCN_Epileptic.X", "B_Ankle_Right", "right", "ankle"},
            {"X/BCN_Epileptic.X", "B_Toe_Right", "right", "toe"},
            {"X/BCN_Epileptic.X", "B_Eye_Right", "right", "eye"},
            {"X/BCN_Epileptic.X", "B_EyeBrow_Right", "right", "brow"},
            {"X/BCN_Epileptic.X", "B_UpperEyeLid_Right", "right", "lid"},
            {"X/BCN_Epileptic.X", "B_LowerEyeLid_Right", "right", "lid"},
            {"X/BCN_Epileptic.X", "B_MouthCorner_Right", "right", "lip"},
            {"X/BCN_Epileptic.X", "B_Cheek_Right", "right", "helper"},
            {"X/BCN_Epileptic.X", "B_Spine1", "middle", "spine"},
            {"X/BCN_Epileptic.X", "B_Spine4", "middle", "spine"},
            {"X/BCN_Epileptic.X", "B_Root_Pelvis_T", "middle", "pelvis"},
            {"X/BCN_Epileptic.X", "B_LowerPelvis", "middle", "pelvis"},
            {"X/BCN_Epileptic.X", "B_Root_Neck_T", "middle", "neck"},
            {"X/BCN_Epileptic.X", "B_Jaw", "middle", "jaw"},
            {"X/BCN_Epileptic.X", "B_UpperLip", "middle", "lip"},
            {"X/BCN_Epileptic.X", "B_LowerLip", "middle", "lip"},
            {"X/BCN_Epileptic.X", "B_PTail1", "middle", "dangling chain"},
            {"X/BCN_Epileptic.X", "B_PTail3", "middle", "dangling chain"},
            {"X/BCN_Epileptic.X", "B_Neck", "middle", "head"},
            {"X/Testwuson.X", "HindLeg_L_01", "left", "hip"},
            {"X/Testwuson.X", "HindLeg_L_02", "left", "knee"},
            {"X/Testwuson.X", "HindLeg_L_03", "left", "ankle"},
            {"X/Testwuson.X", "Ear_L", "left", "ear"},
            {"X/Testwuson.X", "HindLeg_R_01", "right", "hip"},
            {"X/Testwuson.X", "HindLeg_R_02", "right", "knee"},
            {"X/Testwuson.X", "HindLeg_R_03", "right", "ankle"},
            {"X/Testwuson.X", "Ear_R", "right", "ear"},
            {"X/Testwuson.X", "Spine_Front02", "middle", "spine"},
            {"X/Testwuson.X", "Spine_Front04", "middle", "spine"},
            {"X/Testwuson.X", "Spine_Back02", "middle", "spine"},
            {"X/Testwuson.X", "Pelvis", "middle", "pelvis"},
            {"X/Testwuson.X", "Tail01", "middle", "tail"},
            {"X/Testwuson.X", "Tail06", "middle", "tail"},
            {"X/Testwuson.X", "Neck", "middle", "head"},
        };
        std::map<std::string, std::pair<Character, std::vector<JointRole>>> opened;
        int right = 0;
        QStringList wrong;
        for (const Told& t : truth) {
            auto it = opened.find(t.file);
            if (it == opened.end()) {
                auto c = readCharacter(std::string(models) + "/" + t.file);
                QVERIFY2(c, c ? "" : c.error().c_str());
                auto roles = guessRoles(*c);
                it = opened.emplace(t.file, std::pair(std::move(*c), std::move(roles))).first;
            }
            const int j = it->second.first.skeleton.find(t.joint);
            QVERIFY2(j >= 0, t.joint);
            const JointRole& r = it->second.second[static_cast<std::size_t>(j)];
            if (QLatin1String(nameOf(r.role)) == QLatin1String(t.role) &&
                QLatin1String(nameOf(r.side)) == QLatin1String(t.side))
                ++right;
            else
                wrong << QStringLiteral("%1 is %2 %3, taken for %4 %5")
                             .arg(QLatin1String(t.joint), QLatin1String(t.side), QLatin1String(t.role),
                                  QLatin1String(nameOf(r.side)), QLatin1String(nameOf(r.role)));
        }
        QVERIFY2(wrong.isEmpty(), qPrintable(wrong.join(QStringLiteral("; "))));
        QCOMPARE(right, static_cast<int>(truth.size()));
    }

    // Whatever Debian ships of public models with a skeleton is opened, posed and measured, or refused for a
    // cause.
    void publicModels() {
        if (!QFile::exists(models))
            QSKIP("assimp-testmodels is not installed");
        int opened = 0, skeletons = 0, refused = 0;
        QDirIterator all(models, QDir::Files, QDirIterator::Subdirectories);
        std::vector<std::string> suffixes;
        for (const CharacterFormat& f : characterFormats())
            suffixes.insert(suffixes.end(), f.suffixes.begin(), f.suffixes.end());
        while (all.hasNext()) {
            const QString path = all.next();
            if (std::find(suffixes.begin(), suffixes.end(),
                          QFileInfo(path).suffix().toLower().toStdString()) == suffixes.end())
                continue;
            auto c = readCharacter(path.toStdString());
            if (!c) {
                ++refused;
                QVERIFY2(c.error().starts_with("Cannot open " + path.toStdString() + ": "),
                         c.error().c_str());
                QVERIFY(c.error().size() > path.toStdString().size() + 20 && c.error().back() == '.');
                continue;
            }
            ++opened;
            if (c->skeleton.size() < 2 || c->vertexCount() > 60000)
                continue;
            ++skeletons;
            const Subject s = subjectOf(std::move(*c));
            Plan plan = defaultPlan(*s.character, s.roles);
            if (plan.motions.empty()) { // names that say nothing, and no two sides: every joint by hand
                Motion m;
                m.id = "turn";
                m.turns.push_back({s.character->skeleton.size() - 1, Vec3d::UnitX(), 1});
                m.steps = {0, 20, 40};
                plan.motions.push_back(m);
            }
            if (plan.motions.size() > 12)
                plan.motions.resize(12);
            const RunResult run = runPlan(s, plan);
            QCOMPARE(run.motions.size(), plan.motions.size());
            for (const MotionResult& m : run.motions)
                for (const auto& step : m.steps)
                    for (const auto& j : step.joints)
                        QVERIFY(std::isfinite(j.measures.stretch) && std::isfinite(j.measures.squash));
            for (const CheckFinding& f : inspect(s))
                QVERIFY(!f.sentence.empty() && !f.advice.empty());
        }
        qInfo("%d opened, %d of them with a skeleton tested, %d refused for a cause", opened, skeletons,
              refused);
        QVERIFY(opened > 60 && skeletons >= 6);
    }

    void oddPaths() {
        for (const char* name : {"goat with blanks", "it's \"quoted\"", "козёл-почтальон", "山羊", "-dash"}) {
            const std::string path = exported("collada", "dae", name);
            const auto c = readCharacter(path);
            QVERIFY2(c.ok(), c.error().c_str());
            QCOMPARE(c->name, std::string(name));
        }
    }

    void whatIsNoCharacterIsSaid() {
        const auto unknown = readCharacter(written("a.txt", "hello"));
        QVERIFY(unknown.error().find("Hobble opens glTF, FBX") != std::string::npos);
        for (const char* name : {"a.fbx", "a.dae", "a.x", "a.b3d", "a.md5mesh", "a.smd"}) {
            const auto broken = readCharacter(written(name, "not what it says"));
            QVERIFY(!broken.ok());
            QVERIFY2(broken.error().find("the importer library") != std::string::npos,
                     broken.error().c_str());
        }
    }

    void canBeStopped() {
        std::atomic<bool> cancel{true};
        ReadSettings settings;
        settings.progress.cancel = &cancel;
        for (const std::string& path : {std::string(demo), exported("collada", "dae")})
            QVERIFY(wasStopped(readCharacter(path, settings)));
        // and it tells how far it is
        std::vector<double> shares;
        settings.progress = {nullptr, [&](double share) { shares.push_back(share); }};
        QVERIFY(readCharacter(demo, settings).ok());
        QVERIFY(shares.size() > 3 && std::is_sorted(shares.begin(), shares.end()) && shares.back() <= 1.0001);
    }
};

HOBBLE_TEST(TestOtherFormats)
#include "test_other_formats.moc"
