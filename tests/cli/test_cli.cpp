// The command line as a gate uses it: files in, files and exit status out. Posing is checked against an
// independent reading of the file and its own matrices.
#include "io/character_read.h"
#include "io/gltf_write.h"
#include "support/suite.h"

#include <QDir>
#include <QFile>
#include <QJsonArray>
#include <QJsonDocument>
#include <QJsonObject>
#include <QProcess>
#include <QTemporaryDir>
#include <QTest>
#include <algorithm>

#include <nlohmann/json.hpp>

#include <array>
#include <cmath>
#include <cstring>
#include <map>

using nlohmann::json;

namespace {

using Matrix = std::array<double, 16>; // by columns, as in the file

Matrix identity() { return {1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1}; }

Matrix product(const Matrix& a, const Matrix& b) {
    Matrix out{};
    for (int c = 0; c < 4; ++c)
        for (int r = 0; r < 4; ++r)
            for (int k = 0; k < 4; ++k)
                out[c * 4 + r] += a[k * 4 + r] * b[c * 4 + k];
    return out;
}

Matrix inverseOfAffine(const Matrix& m) { // Gauss–Jordan on the 4 × 4
    double a[4][8];
    for (int r = 0; r < 4; ++r)
        for (int c = 0; c < 4; ++c) {
            a[r][c] = m[c * 4 + r];
            a[r][4 + c] = r == c;
        }
    for (int i = 0; i < 4; ++i) {
        int pivot = i;
        for (int r = i; r < 4; ++r)
            if (std::abs(a[r][i]) > std::abs(a[pivot][i]))
                pivot = r;
        std::swap(a[i], a[pivot]);
        const double d = a[i][i];
        for (double& x : a[i])
            x /= d;
        for (int r = 0; r < 4; ++r)
            if (r != i) {
                const double f = a[r][i];
                for (int c = 0; c < 8; ++c)
                    a[r][c] -= f * a[i][c];
            }
    }
    Matrix out;
    for (int r = 0; r < 4; ++r)
        for (int c = 0; c < 4; ++c)
            out[c * 4 + r] = a[r][4 + c];
    return out;
}

Matrix rotation(int axis, double degrees) {
    const double a = degrees * 3.14159265358979323846 / 180, c = std::cos(a), s = std::sin(a);
    Matrix m = identity();
    const int i = (axis + 1) % 3, j = (axis + 2) % 3;
    m[i * 4 + i] = c;
    m[i * 4 + j] = s;
    m[j * 4 + i] = -s;
    m[j * 4 + j] = c;
    return m;
}

/// The demo file taken apart by hand: positions, weights, joints and bind matrices of its first mesh.
struct ByHand {
    json doc;
    QByteArray bin;

    explicit ByHand(const QString& path) {
        QFile f(path);
        if (!f.open(QIODevice::ReadOnly))
            qFatal("no demo file");
        const QByteArray all = f.readAll();
        std::uint32_t n;
        std::memcpy(&n, all.constData() + 12, 4);
        doc = json::parse(all.mid(20, n).toStdString());
        bin = all.mid(20 + n + 8);
    }
    template <class T> std::vector<T> data(int accessor) const {
        const auto& view = doc["bufferViews"][doc["accessors"][accessor]["bufferView"].get<int>()];
        std::vector<T> out(view["byteLength"].get<std::size_t>() / sizeof(T));
        std::memcpy(out.data(), bin.constData() + view["byteOffset"].get<std::size_t>(),
                    out.size() * sizeof(T));
        return out;
    }

    std::vector<std::array<double, 3>>
    posed(const std::map<std::string, std::array<double, 3>>& turns) const {
        const auto& skin = doc["skins"][0];
        const auto flat = data<float>(skin["inverseBindMatrices"]);
        const std::size_t n = skin["joints"].size();
        std::vector<Matrix> inverseBind(n), bind(n), world(n);
        std::vector<int> parent(n, -1);
        for (std::size_t j = 0; j < n; ++j) {
            std::copy_n(flat.begin() + 16 * j, 16, inverseBind[j].begin());
            bind[j] = inverseOfAffine(inverseBind[j]);
            const auto& node = doc["nodes"][skin["joints"][j].get<int>()];
            if (node.contains("children"))
                for (int child : node["children"])
                    parent[child] = int(j); // in this file nodes and joints have the same numbers
        }
        for (std::size_t j = 0; j < n; ++j) {
            Matrix local = parent[j] < 0 ? bind[j] : product(inverseOfAffine(bind[parent[j]]), bind[j]);
            if (auto t = turns.find(doc["nodes"][j]["name"]); t != turns.end())
                for (int axis = 0; axis < 3; ++axis)
                    local = product(local, rotation(axis, t->second[axis]));
            world[j] = parent[j] < 0 ? local : product(world[parent[j]], local);
        }
        const auto& attributes = doc["meshes"][0]["primitives"][0]["attributes"];
        const auto p = data<float>(attributes["POSITION"]);
        const auto joints = data<std::uint16_t>(attributes["JOINTS_0"]);
        const auto weights = data<float>(attributes["WEIGHTS_0"]);
        std::vector<std::array<double, 3>> out(p.size() / 3);
        for (std::size_t v = 0; v < out.size(); ++v)
            for (int k = 0; k < 4; ++k) {
                const Matrix m = product(world[joints[4 * v + k]], inverseBind[joints[4 * v + k]]);
                for (int r = 0; r < 3; ++r)
                    out[v][r] += weights[4 * v + k] * (m[r] * p[3 * v] + m[4 + r] * p[3 * v + 1] +
                                                       m[8 + r] * p[3 * v + 2] + m[12 + r]);
            }
        return out;
    }
};

} // namespace

class TestCli : public QObject {
    Q_OBJECT

    QTemporaryDir folder_;
    const QString demo_ = QStringLiteral(HOBBLE_DEMO_DIR "/badger-postmaster.glb");
    QByteArray out_, err_;

    int run(const QStringList& arguments) {
        QProcess p;
        p.start(QStringLiteral(HOBBLE_CLI), arguments);
        p.waitForFinished(180000);
        out_ = p.readAllStandardOutput();
        err_ = p.readAllStandardError();
        return p.exitStatus() == QProcess::NormalExit ? p.exitCode() : -1;
    }
    QString path(const char* name) { return folder_.filePath(QString::fromUtf8(name)); }
    // What is measured of the cast, of all tests in one round.
    QString measured() { return qEnvironmentVariable("HOBBLE_TESTS_MEASURED", path("cache")); }
    static json read(const QString& file) {
        QFile f(file);
        return f.open(QIODevice::ReadOnly) ? json::parse(f.readAll().toStdString(), nullptr, false) : json();
    }

private slots:
    void inspect() {
        QCOMPARE(run({"inspect", demo_, "--json"}), 0);
        const json j = json::parse(out_.toStdString());
        QCOMPARE(j["format"].get<std::string>(), std::string("hobble-inspect"));
        QCOMPARE(j["parts"].size(), std::size_t(11));
        QVERIFY(j["checks"].empty()); // the clean build is fit to be tested
        QCOMPARE(j["influences"].get<int>(), 4);
        int elbows = 0;
        for (const auto& joint : j["joints"])
            elbows += joint["role"] == "elbow" && joint["side"] != "middle" && !joint["mirror"].is_null();
        QCOMPARE(elbows, 2);
        QCOMPARE(run({"inspect", demo_}), 0);
        QVERIFY(out_.contains("forearm.L"));
    }

    void aClipThatGivesNothingIsAnError() {
        QFile alien(path("alien.bvh"));
        QVERIFY(alien.open(QIODevice::WriteOnly));
        alien.write(
            "HIERARCHY\nROOT Qux\n{\nOFFSET 0 0 0\nCHANNELS 3 Zrotation Xrotation Yrotation\nJOINT Quux\n{\n"
            "OFFSET 0 10 0\nCHANNELS 3 Zrotation Xrotation Yrotation\nEnd Site\n{\nOFFSET 0 5 0\n}\n}\n}\n"
            "MOTION\nFrames: 2\nFrame Time: 0.04\n0 0 0 0 0 0\n0 0 0 30 0 0\n");
        alien.close();
        QCOMPARE(run({"take-clip", demo_, "--from", path("alien.bvh"), "--out", path("none.json")}), 2);
        QVERIFY2(err_.contains("nothing was taken"), err_.constData());
        QVERIFY(!QFile::exists(path("none.json")));
    }

    void planThenRun() {
        QCOMPARE(run({"plan", demo_, "--out", path("plan.json")}), 0);
        json plan = read(path("plan.json"));
        QVERIFY(plan["motions"].size() > 60);
        json few = json::array();
        for (const auto& m : plan["motions"])
            if (m["id"] == "left-elbow-flex" || m["id"] == "left-wrist-roll-in")
                few.push_back(m);
        plan["motions"] = few;
        QFile f(path("few.json"));
        QVERIFY(f.open(QIODevice::WriteOnly));
        f.write(QByteArray::fromStdString(plan.dump()));
        f.close();
        QCOMPARE(
            run({"run", demo_, "--plan", path("few.json"), "--json", path("run.json"), "--csv",
                 path("run.csv"), "--html", path("run.html"), "--log", path("log.sqlite"), "--threads", "2"}),
            0);
        const json r = read(path("run.json"));
        QCOMPARE(r["motions"].size(), std::size_t(2));
        QVERIFY(!r["findings"].empty());
        QCOMPARE(r["method"].get<std::string>(), std::string("linear"));
        QVERIFY(QFile(path("run.csv")).size() > 500);
        QVERIFY(QFile(path("run.html")).size() > 1000);
        QVERIFY(QFile::exists(path("log.sqlite")));
        // another number of threads, the same bytes
        QCOMPARE(run({"run", demo_, "--plan", path("few.json"), "--json", path("again.json"), "--threads",
                      "1", "--quiet"}),
                 0);
        QVERIFY(read(path("again.json")) == r);
        QVERIFY(out_.isEmpty());
    }

    void gate() {
        const QString cache = measured();
        QCOMPARE(run({"run", demo_, "--cache", cache, "--quiet"}), 0);
        QCOMPARE(run({"run", demo_, "--cache", cache, "--quiet", "--singles", "--fail-at", "3"}),
                 0); // the clean build passes a gate
        QCOMPARE(run({"run", demo_, "--cache", cache, "--quiet", "--fail-at", "4"}),
                 0); // whole poses ask more of it
        // what is not tested is not clean: a plan of one motion moves too little to pass
        QCOMPARE(run({"plan", demo_, "--singles", "--out", path("one.json")}), 0);
        auto few = read(path("one.json"));
        for (auto& motion : few["motions"])
            motion["on"] = motion["id"] == "jaw-open";
        {
            QFile f(path("one.json"));
            QVERIFY(f.open(QIODevice::WriteOnly | QIODevice::Truncate));
            f.write(QByteArray::fromStdString(few.dump()));
        }
        QCOMPARE(run({"run", demo_, "--quiet", "--plan", path("one.json"), "--fail-at", "4"}), 1);
        QCOMPARE(run({"run", demo_, "--quiet", "--plan", path("one.json")}), 0);
        QCOMPARE(run({"run", demo_, "--quiet", "--plan", path("one.json"), "--fail-at", "4",
                      "--least-coverage", "0"}),
                 0);
        QCOMPARE(run({"run", demo_, "--quiet", "--least-coverage", "2"}), 2);
        QCOMPARE(run({"run", demo_, "--quiet", "--plan", path("one.json"), "--json", path("one-run.json")}),
                 0);
        const auto coverage = read(path("one-run.json"))["coverage"];
        QVERIFY(coverage["share"].get<double>() < 0.9);
        QVERIFY(coverage["untested"].size() > 20);
        QVERIFY(std::any_of(coverage["untested"].begin(), coverage["untested"].end(),
                            [](const json& u) { return u["why"] == "its motions are off"; }));
        const QString faulty = QStringLiteral(HOBBLE_DEMO_DIR "/builds/1/badger-postmaster.glb");
        QCOMPARE(run({"run", faulty, "--cache", cache, "--quiet", "--fail-at", "4"}), 1);
        QCOMPARE(run({"run", demo_, "--cache", cache, "--quiet", "--method", "dual-quaternion", "--json",
                      path("dual.json")}),
                 0);
        QCOMPARE(read(path("dual.json"))["method"].get<std::string>(), std::string("dual-quaternion"));
    }

    void badUse() {
        QCOMPARE(run({}), 2);
        QCOMPARE(run({"run"}), 2);
        QCOMPARE(run({"run", demo_, "--fail-at", "9"}), 2);
        QCOMPARE(run({"run", demo_, "--method", "magic"}), 2);
        QCOMPARE(run({"pose", demo_, "--set", "nobody=1,2,3", "--out", path("x.ply")}), 2);
        QVERIFY(err_.contains("nobody"));
        QCOMPARE(run({"pose", demo_, "--set", "head=1,2", "--out", path("x.ply")}), 2);
        QCOMPARE(run({"pose", demo_, "--out", path("x.stl")}), 2);
        QCOMPARE(run({"run", demo_, "--plan", path("missing.json")}), 2);
        QCOMPARE(run({"run", demo_, "--json", "/nowhere/x.json"}), 2);
        QCOMPARE(run({"--help"}), 0);
    }

    void unreadableFile() {
        QCOMPARE(run({"run", path("missing.glb")}), 3);
        QVERIFY(err_.contains("missing.glb") && err_.contains("no such file"));
        QFile f(path("torn.glb"));
        QVERIFY(f.open(QIODevice::WriteOnly));
        f.write("glTF\2\0\0\0");
        f.close();
        for (const char* command : {"inspect", "run"})
            QCOMPARE(run({QString::fromLatin1(command), path("torn.glb")}), 3);
    }

    // The log by script: what a nightly job asks for and says, and what it is refused.
    void theLog() {
        const QString log = folder_.filePath(QStringLiteral("team.sqlite")),
                      moved = folder_.filePath(QStringLiteral("moved.sqlite"));
        QVERIFY(QFile::copy(QStringLiteral(HOBBLE_DEMO_DIR "/demo-log.sqlite"), log));
        QFile::setPermissions(log, QFile::ReadOwner | QFile::WriteOwner);
        const auto cli = [&](QStringList arguments, int status, QByteArray* out = nullptr,
                             QByteArray* error = nullptr) {
            QProcess p;
            arguments.prepend(QStringLiteral("log"));
            if (!arguments.contains(QStringLiteral("--log")))
                arguments << QStringLiteral("--log") << log;
            p.start(QStringLiteral(HOBBLE_CLI), arguments);
            QVERIFY(p.waitForFinished(60000));
            const QByteArray said = p.readAllStandardError();
            QVERIFY2(p.exitStatus() == QProcess::NormalExit && p.exitCode() == status,
                     (arguments.join(QLatin1Char(' ')).toUtf8() + ": " + said).constData());
            if (out)
                *out = p.readAllStandardOutput();
            if (error)
                *error = said;
        };
        const auto defects = [](const QByteArray& bytes) {
            return QJsonDocument::fromJson(bytes).object().value(QStringLiteral("defects")).toArray();
        };
        QByteArray out, error;
        cli({QStringLiteral("check"), QStringLiteral("--json")}, 0, &out);
        const QString checksum =
            QJsonDocument::fromJson(out).object().value(QStringLiteral("checksum")).toString();
        QCOMPARE(checksum.size(), 64);
        cli({QStringLiteral("list"), QStringLiteral("--json")}, 0, &out);
        const QJsonArray open = defects(out);
        QVERIFY(open.size() > 5);
        for (int d = 1; d < open.size(); ++d) // worst first
            QVERIFY(open[d - 1].toObject().value(QStringLiteral("severity")).toInt() >=
                    open[d].toObject().value(QStringLiteral("severity")).toInt());
        cli({QStringLiteral("list"), QStringLiteral("--who"), QStringLiteral("nobody"),
             QStringLiteral("--json")},
            0, &out);
        const QJsonArray nobodys = defects(out);
        QVERIFY(!nobodys.isEmpty() && nobodys.size() < open.size());
        const QString id = QString::number(nobodys[0].toObject().value(QStringLiteral("number")).toInt());
        cli({QStringLiteral("assign"), id, QStringLiteral("--to"), QStringLiteral("Wim Knot"),
             QStringLiteral("--due"), QStringLiteral("build 4"), QStringLiteral("--author"),
             QStringLiteral("nightly"), QStringLiteral("--json")},
            0, &out);
        QCOMPARE(defects(out)[0].toObject().value(QStringLiteral("state")).toString(),
                 QStringLiteral("assigned"));
        cli({QStringLiteral("assign"), id, QStringLiteral("--state"), QStringLiteral("closed")}, 2, nullptr,
            &error);
        QVERIFY(error.contains("cannot become closed"));
        cli({QStringLiteral("assign"), id, QStringLiteral("--state"), QStringLiteral("intended")}, 2, nullptr,
            &error);
        QVERIFY(error.contains("needs a reason"));
        cli({QStringLiteral("assign"), id, QStringLiteral("--to"), QStringLiteral("Jonas Eelgrass")}, 2,
            nullptr, &error);
        QVERIFY(error.contains("on the roster")); // has left
        cli({QStringLiteral("assign"), QStringLiteral("999"), QStringLiteral("--severity"),
             QStringLiteral("1")},
            2);
        cli({QStringLiteral("show"), id, QStringLiteral("--json")}, 0, &out);
        QVERIFY(out.contains("nightly"));
        cli({QStringLiteral("move"), QStringLiteral("--to"), moved, QStringLiteral("--json")}, 0, &out);
        QByteArray there;
        cli({QStringLiteral("check"), QStringLiteral("--json"), QStringLiteral("--log"), moved}, 0, &there);
        QCOMPARE(QJsonDocument::fromJson(there).object().value(QStringLiteral("checksum")).toString(),
                 QJsonDocument::fromJson(out).object().value(QStringLiteral("checksum")).toString());
        cli({QStringLiteral("move"), QStringLiteral("--to"), moved}, 2, nullptr, &error); // not over another
        QVERIFY(error.contains("holds a log already"));
        const QString csv = folder_.filePath(QStringLiteral("d.csv")),
                      whole = folder_.filePath(QStringLiteral("l.json"));
        cli({QStringLiteral("export"), QStringLiteral("--what"), QStringLiteral("csv"),
             QStringLiteral("--out"), csv},
            0);
        cli({QStringLiteral("import"), csv, QStringLiteral("--json")}, 0,
            &out); // as it went out: nothing to do
        QCOMPARE(QJsonDocument::fromJson(out).object().value(QStringLiteral("changes")).toInt(-1), 0);
        cli({QStringLiteral("export"), QStringLiteral("--what"), QStringLiteral("log"),
             QStringLiteral("--out"), whole},
            0);
        cli({QStringLiteral("import"), whole, QStringLiteral("--log"),
             folder_.filePath(QStringLiteral("new.sqlite"))},
            0);
        cli({QStringLiteral("backup"), QStringLiteral("--out"), folder_.filePath(QStringLiteral("b.sqlite"))},
            0);
        cli({QStringLiteral("list"), QStringLiteral("--log"),
             folder_.filePath(QStringLiteral("none.sqlite"))},
            3);
        QVERIFY(
            !QFile::exists(folder_.filePath(QStringLiteral("none.sqlite")))); // not made by being asked for
    }

    void posesLikeAnIndependentReader_data() {
        QTest::addColumn<QString>("ending");
        for (const char* e : {"ply", "obj"})
            QTest::newRow(e) << QString::fromLatin1(e);
    }
    void posesLikeAnIndependentReader() {
        QFETCH(QString, ending);
        const QString file = path("posed.") + ending;
        // The reader by hand knows skinning, and nothing that follows by itself.
        const QString plain = path("plain.glb");
        auto bare = hobble::readCharacter(demo_.toStdString());
        QVERIFY(bare);
        bare->drivers.clear();
        QVERIFY(hobble::writeGlb(*bare, plain.toStdString()));
        QCOMPARE(run({"pose", plain, "--set", "forearm.L=12,-35.5,80", "spine_2=10,0,-20", "--set",
                      "thigh.R=-70,5,3", "--out", file}),
                 0);
        const auto expected = ByHand(plain).posed(
            {{"forearm.L", {12, -35.5, 80}}, {"spine_2", {10, 0, -20}}, {"thigh.R", {-70, 5, 3}}});
        QFile f(file);
        QVERIFY(f.open(QIODevice::ReadOnly));
        if (ending == QLatin1String("ply"))
            while (f.readLine().trimmed() != "end_header")
                ;
        std::size_t v = 0;
        double worst = 0;
        while (v < expected.size() && !f.atEnd()) {
            QByteArray line = f.readLine().trimmed();
            if (ending == QLatin1String("obj")) {
                if (!line.startsWith("v "))
                    continue;
                line = line.mid(2);
            }
            const auto words = line.split(' ');
            for (int k = 0; k < 3; ++k)
                worst = std::max(worst, std::abs(words[k].toDouble() - expected[v][k]));
            ++v;
        }
        QCOMPARE(v, expected.size());
        QVERIFY2(worst < 2e-6, qPrintable(QString::number(worst)));
    }

    // Two builds, one build otherwise, and what is no build of it.
    void compare() {
        const QString two = QStringLiteral(HOBBLE_DEMO_DIR "/builds/2/badger-postmaster.glb"),
                      three = QStringLiteral(HOBBLE_DEMO_DIR "/builds/3/badger-postmaster.glb"),
                      cache = measured(), out = path("compare.json");
        QCOMPARE(run({"compare", two, three, "--singles", "--cache", cache, "--json", out, "--csv",
                      path("compare.csv"), "--html", path("compare.html")}),
                 0);
        json j = read(out);
        QCOMPARE(j["format"].get<std::string>(), std::string("hobble-compare"));
        QCOMPARE(j["versus"].get<std::string>(), std::string("build"));
        QVERIFY(j["better"].get<int>() > 0 && j["worse"].get<int>() + j["both"].get<int>() > 0);
        QVERIFY(out_.contains(j["sentence"].get<std::string>().c_str()));
        QVERIFY(read(path("compare.csv")).is_discarded()); // a table
        QVERIFY(QFile::exists(path("compare.html")));
        bool elbow = false;
        for (const json& joint : j["joints"])
            elbow |=
                joint["joint"] == "forearm.R" && (joint["verdict"] == "worse" || joint["mixed"].get<bool>());
        QVERIFY(elbow); // the coat, in the story
        // as a gate: something got worse, and is serious now; the other way about nothing is
        QCOMPARE(
            run({"compare", two, three, "--singles", "--cache", cache, "--quiet", "--fail-if-worse", "1"}),
            1);
        QVERIFY(out_.isEmpty());
        QCOMPARE(run({"compare", three, three, "--singles", "--cache", cache, "--json", out,
                      "--fail-if-worse", "1"}),
                 0);
        QCOMPARE(read(out)["versus"].get<std::string>(), std::string("itself"));
        QCOMPARE(read(out)["worse"].get<int>() + read(out)["better"].get<int>(), 0);
        QVERIFY(err_.contains("same file"));
        QCOMPARE(run({"compare", three, "--left-right", "--singles", "--cache", cache, "--json", out}), 0);
        QCOMPARE(read(out)["versus"].get<std::string>(), std::string("left and right"));
        const QString newt = QStringLiteral(HOBBLE_DEMO_DIR "/lighthouse-newt.glb");
        QCOMPARE(run({"compare", newt, three, "--singles", "--cache", cache}), 0);
        QVERIFY2(err_.contains("nother character") || err_.contains("no builds of one character"),
                 err_.constData());
        QCOMPARE(run({"compare", three}), 2);
        QCOMPARE(run({"compare", three, "/nowhere.glb"}), 3);
        QCOMPARE(run({"compare", three, two, "--fail-if-worse", "9"}), 2);
    }

    // Weights as told, but for what reading rounds.
    static bool alike(const json& a, const json& b) {
        bool same = a.at("parts").size() == b.at("parts").size();
        for (std::size_t p = 0; same && p < a.at("parts").size(); ++p) {
            const json &one = a["parts"][p]["vertices"], &other = b["parts"][p]["vertices"];
            same = one.size() == other.size();
            for (std::size_t v = 0; same && v < one.size(); ++v) {
                std::map<int, double> by;
                for (const json& i : one[v])
                    by[i[0].get<int>()] += i[1].get<double>();
                for (const json& i : other[v])
                    by[i[0].get<int>()] -= i[1].get<double>();
                for (const auto& [joint, apart] : by)
                    same = same && std::abs(apart) < 1e-6;
            }
        }
        return same;
    }

    // A trial on a build: each step is told, the weights go out, the comparison too; on another mesh of it,
    // too.
    void mend() {
        const QString two = QStringLiteral(HOBBLE_DEMO_DIR "/builds/2/badger-postmaster.glb"),
                      three = QStringLiteral(HOBBLE_DEMO_DIR "/builds/3/badger-postmaster.glb"),
                      trial = path("trial.json"), weights = path("weights.json"), table = path("weights.csv"),
                      out = path("mended.json"), cache = measured();
        const auto write = [&](const char* steps) {
            QFile file(trial);
            QVERIFY(file.open(QIODevice::WriteOnly));
            file.write(R"({"format": "hobble-trial", "version": 1, "steps": [)");
            file.write(steps);
            file.write("]}");
        };
        write(R"({"step": "soften", "count": 4, "place": {"reach": "forearm.R"}})");
        QCOMPARE(run({"mend", two, "--trial", trial, "--singles", "--cache", cache, "--weights-json", weights,
                      "--weights-csv", table, "--json", out}),
                 0);
        QVERIFY(QFile::copy(trial, path("soften.json")));
        QVERIFY2(out_.contains("Soften 4 times, where forearm.R reaches: ") && out_.contains("joint"),
                 out_.constData());
        const json told = read(weights), compared = read(out);
        QCOMPARE(told.at("format").get<std::string>(), std::string("hobble-weights"));
        QVERIFY(!told.at("parts").empty());
        QVERIFY(!compared.empty());
        QFile csv(table);
        QVERIFY(csv.open(QIODevice::ReadOnly));
        QCOMPARE(csv.readLine(), QByteArray("part,vertex,joint,weight\n"));
        // the same steps on the build that came after, whose mesh is in another order
        QCOMPARE(run({"mend", three, "--made-on", two, "--trial", trial, "--singles", "--cache", cache,
                      "--quiet"}),
                 0);
        write(R"({"step": "rigid", "joint": "no such joint", "place": {"everywhere": true}})");
        QCOMPARE(run({"mend", demo_, "--trial", trial, "--singles", "--cache", cache, "--quiet"}), 1);
        write(R"({"step": "polish", "place": {"everywhere": true}})");
        QCOMPARE(run({"mend", demo_, "--trial", trial}), 2);
        QCOMPARE(run({"mend", demo_, "--trial", path("none.json")}), 2);
        QCOMPARE(run({"mend", "/nowhere.glb", "--trial", trial}), 3);
        // a new build, and the weights back in
        const QString mended = path("mended.glb"), again = path("again.glb"), back = path("back.json");
        QCOMPARE(run({"mend", two, "--trial", path("soften.json"), "--singles", "--cache", cache, "--quiet",
                      "--out", mended}),
                 0);
        QCOMPARE(run({"weights", mended, "--json", back}), 0);
        QVERIFY(alike(read(back), told));
        QCOMPARE(run({"weights", two, "--from", weights, "--out", again}), 0);
        QCOMPARE(run({"weights", again, "--json", back}), 0);
        QVERIFY(alike(read(back), told));
        QCOMPARE(run({"weights", two, "--from", weights}), 2);
        QCOMPARE(run({"weights", two, "--from", trial, "--out", again}), 2);
        QCOMPARE(run({"mend", two, "--trial", path("soften.json"), "--singles", "--cache", cache, "--quiet",
                      "--out", path("no such folder/x.glb")}),
                 2);
        QCOMPARE(run({"weights", demo_, "--csv", table}), 0);
        QCOMPARE(run({"weights", demo_}), 2);
        QCOMPARE(run({"weights", path("none.glb"), "--csv", table}), 3);
    }

    // Skin bound anew, and a garment as the skin below it; what comes out is a build like any other.
    void bind() {
        const QString weights = path("bound.json"), build = path("bound.glb"), trial = path("bind.json"),
                      again = path("bound-again.json"), coat = path("coat.json");
        QCOMPARE(
            run({"bind", demo_, "--part", "coat", "--as-below", "--weights-json", coat, "--trial", trial}),
            0);
        QVERIFY2(out_.contains("As the skin below, over ") && out_.contains(" vertices, by up to "),
                 out_.constData());
        QCOMPARE(run({"bind", demo_, "--part", "body", "--by", "distance", "--reach", "6", "--quiet", "--out",
                      build, "--weights-json", weights}),
                 0);
        QCOMPARE(run({"weights", build, "--json", again}), 0);
        QVERIFY(alike(read(again), read(weights)));
        QCOMPARE(run({"weights", demo_, "--json", again}), 0);
        QVERIFY(!alike(read(again), read(weights)) && !alike(read(again), read(coat)));
        // the step as a trial does the same
        QCOMPARE(run({"mend", demo_, "--trial", trial, "--singles", "--cache", measured(), "--quiet",
                      "--weights-json", weights}),
                 0);
        QVERIFY(alike(read(coat), read(weights)));
        QCOMPARE(run({"bind", demo_}), 2);
        QCOMPARE(run({"bind", demo_, "--part", "no such part", "--out", build}), 2);
        QCOMPARE(run({"bind", demo_, "--joint", "no such joint", "--out", build}), 2);
        QCOMPARE(run({"bind", demo_, "--joint", "forearm.L", "--as-below", "--out", build}), 2);
        QCOMPARE(run({"bind", demo_, "--reach", "-1", "--out", build}), 2);
        QCOMPARE(run({"bind", path("none.glb"), "--out", build}), 3);
    }

    // A cure for a logged defect, proposed in the log, and as a trial that mend takes; and what cannot be
    // asked.
    void cure() {
        const QString two = QStringLiteral(HOBBLE_DEMO_DIR "/builds/2/badger-postmaster.glb"),
                      cache = measured(), out = path("cures.json"), trial = path("cure.json"),
                      log = path("cured.sqlite");
        QVERIFY(QFile::copy(QStringLiteral(HOBBLE_DEMO_DIR "/demo-log.sqlite"), log));
        QFile::setPermissions(log, QFile::ReadOwner | QFile::WriteOwner);
        // the left elbow, in the story
        const int status = run({"cure", two, "--defect", "3", "--log", log, "--propose", "--author", "Petra",
                                "--singles", "--cache", cache, "--json", out, "--trial", trial});
        QVERIFY2(status == 0 || status == 1, err_.constData());
        const json found = read(out);
        QCOMPARE(found["format"].get<std::string>(), std::string("hobble-cures"));
        QVERIFY(!found["cures"].empty());
        const json& first = found["cures"][0];
        QVERIFY(first["troubleIs"].get<double>() < first["troubleWas"].get<double>());
        const std::string words = first["words"][0].get<std::string>();
        QVERIFY2(out_.contains(words.c_str()), out_.constData());
        QCOMPARE(run({"log", "show", "3", "--log", log}), 0);
        QVERIFY2(out_.contains("Petra") && out_.contains(words.c_str()), out_.constData());
        QCOMPARE(run({"mend", two, "--trial", trial, "--singles", "--cache", cache, "--quiet"}), 0);
        QCOMPARE(run({"cure", two, "--defect", "3"}), 2);
        QCOMPARE(run({"cure", two, "--fault", "1", "--propose"}), 2);
        QCOMPARE(run({"cure", two, "--defect", "999", "--log", log, "--singles", "--cache", cache}), 2);
        QCOMPARE(run({"cure", two}), 2);
        QCOMPARE(run({"cure", two, "--fault", "1", "--all"}), 2);
        QCOMPARE(run({"cure", two, "--fault", "9999", "--singles", "--cache", cache}), 2);
        QCOMPARE(run({"cure", two, "--joint", "no such joint", "--singles", "--cache", cache}), 2);
        QCOMPARE(run({"cure", "/nowhere.glb", "--fault", "1"}), 3);
    }

    // The log's open defects on a new build, and whether it may go on.
    void checkAndSignOff() {
        const QString log = path("checked.sqlite"), cache = measured(),
                      three = QStringLiteral(HOBBLE_DEMO_DIR "/builds/3/badger-postmaster.glb"),
                      out = path("check.json");
        QVERIFY(QFile::copy(QStringLiteral(HOBBLE_DEMO_DIR "/demo-log.sqlite"), log));
        QFile::setPermissions(log, QFile::ReadOwner | QFile::WriteOwner);
        QCOMPARE(run({"check", three, "--log", log, "--singles", "--cache", cache, "--json", out, "--junit",
                      path("check.xml"), "--fail-at", "4"}),
                 1); // the left knee, as before
        // the demo's log knows its builds from the project's folder
        const QString here = QDir::currentPath();
        QVERIFY(QDir::setCurrent(QStringLiteral(HOBBLE_DEMO_DIR "/../..")));
        QCOMPARE(run({"check", three, "--log", log, "--singles", "--cache", cache, "--quiet", "--fail-at",
                      "0", "--html", path("check.html")}),
                 0);
        QDir::setCurrent(here);
        QFile page(path("check.html"));
        QVERIFY(page.open(QIODevice::ReadOnly));
        const QByteArray told = page.readAll();
        QVERIFY(told.contains("then, build ") && told.contains("now, build 3"));
        const json j = read(out);
        QCOMPARE(j["format"].get<std::string>(), std::string("hobble-check"));
        QCOMPARE(j["build"].get<int>(), 3);
        QVERIFY(j["defects"].size() > 5);
        QVERIFY(QFile::exists(path("check.xml")));
        QCOMPARE(
            run({"check", three, "--log", log, "--singles", "--cache", cache, "--fail-at", "1", "--quiet"}),
            1);
        QCOMPARE(run({"check", three, "--log", path("none.sqlite")}), 3);
        QCOMPARE(run({"check", "/nowhere.glb", "--log", log}), 3);
        // not signed: asked for, and refused with what stands in the way
        QCOMPARE(run({"sign-off", three, "--log", log, "--require-sign-off"}), 1);
        QCOMPARE(
            run({"sign-off", three, "--log", log, "--singles", "--cache", cache, "--for", "to animation"}),
            1);
        QVERIFY2(err_.contains("stand in the way"), err_.constData());
        // a build with nothing serious in it, in a log of its own
        const QString fresh = path("fresh.sqlite");
        QCOMPARE(run({"run", demo_, "--singles", "--cache", cache, "--log", fresh, "--quiet"}), 0);
        QCOMPARE(run({"sign-off", demo_, "--log", fresh, "--singles", "--cache", cache, "--for",
                      "to animation", "--limit", "4", "--pdf", path("signed.pdf"), "--author", "Petra"}),
                 0);
        QVERIFY(QFile::exists(path("signed.pdf")));
        QCOMPARE(run({"sign-off", demo_, "--log", fresh, "--require-sign-off", "--for", "to animation"}), 0);
        QCOMPARE(run({"sign-off", demo_, "--log", fresh, "--require-sign-off", "--for", "to crowds"}), 1);
        // one byte more is another build
        const QString other = path("other.glb");
        QVERIFY(QFile::copy(three, other));
        QCOMPARE(run({"sign-off", other, "--log", fresh, "--require-sign-off"}), 1);
        QCOMPARE(run({"sign-off", demo_, "--log", fresh, "--take-back", "--author", "Petra"}),
                 2); // without a reason
        QCOMPARE(run({"sign-off", demo_, "--log", fresh, "--take-back", "--reason", "the tail", "--author",
                      "Petra"}),
                 0);
        QCOMPARE(run({"sign-off", demo_, "--log", fresh, "--require-sign-off"}), 1);
    }
};

HOBBLE_TEST(TestCli)
#include "test_cli.moc"
