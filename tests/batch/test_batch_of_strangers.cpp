// A batch by the real program on characters nobody here drew, among them real trouble: a pipe that nobody
// writes into, buffers of 3 and 100 GB, JSON that nests without end, a torn file, an empty one, a missing
// one. Every other row is what testing it here, in this process, says. HOBBLE_BATCH_CHARACTERS makes it as
// many as wished.
#include "batch/batch_run.h"
#include "io/gltf_write.h"
#include "support/suite.h"
#include "zoo/zoo.h"

#include "core/run/run.h"
#include "io/character_read.h"

#include <nlohmann/json.hpp>

#include <QDir>
#include <QFile>
#include <QTemporaryDir>
#include <QTest>

#include <sys/stat.h>

using namespace hobble;
using nlohmann::json;

class TestBatchOfStrangers : public QObject {
    Q_OBJECT

    QTemporaryDir folder_;
    std::vector<std::string> whole_; // that can be tested

    std::string at(const std::string& name) const {
        return folder_.filePath(QString::fromStdString(name)).toStdString();
    }
    static QByteArray read(const std::string& path) {
        QFile f(QString::fromStdString(path));
        return f.open(QIODevice::ReadOnly) ? f.readAll() : QByteArray();
    }
    std::string write(const std::string& name, const QByteArray& bytes) const {
        QFile f(QString::fromStdString(at(name)));
        if (!f.open(QIODevice::WriteOnly) || f.write(bytes) != bytes.size())
            qFatal("cannot write");
        return at(name);
    }
    static BatchCharacter of(const std::string& file) {
        BatchCharacter out;
        out.file = file;
        return out;
    }
    // What cannot be tested, and how its row has to say so.
    std::vector<std::pair<std::string, BatchRow::State>> trouble() {
        using State = BatchRow::State;
        std::vector<std::pair<std::string, State>> out;
        const QByteArray sound = read(whole_.front());
        out.push_back({write("torn.glb", sound.left(sound.size() / 2)), State::Unreadable});
        out.push_back({write("empty.glb", {}), State::Unreadable});
        out.push_back({at("missing.glb"), State::Unreadable});
        out.push_back({write("nested.gltf", "{\"asset\":{\"version\":\"2.0\"},\"extras\":" +
                                                QByteArray(3000000, '[') + QByteArray(3000000, ']') + "}"),
                       State::Unreadable});
        const std::string pipe = at("never-ends.glb"); // nobody writes into it
        if (mkfifo(pipe.c_str(), 0600) != 0)
            qFatal("no pipe can be made");
        out.push_back({pipe, State::Unreadable});
        for (const auto& [name, bytes, state] : {std::tuple("3 GB", 3000000000ll, State::OutOfMemory),
                                                 std::tuple("100 GB", 100000000000ll, State::Unreadable)}) {
            json large = json::parse(
                R"({"asset": {"version": "2.0"}, "scenes": [{"nodes": [0]}], "nodes": [{"mesh": 0, "skin": 0}, {}],
                "skins": [{"joints": [1]}],
                "meshes": [{"primitives": [{"attributes": {"POSITION": 0, "JOINTS_0": 1, "WEIGHTS_0": 2}}]}]})");
            large["buffers"] = {{{"uri", std::string(name) + ".bin"}, {"byteLength", bytes}}};
            large["bufferViews"] = {{{"buffer", 0}, {"byteLength", bytes}}};
            for (const auto& [type, component] :
                 {std::pair("VEC3", 5126), std::pair("VEC4", 5121), std::pair("VEC4", 5126)})
                large["accessors"].push_back(
                    {{"bufferView", 0}, {"componentType", component}, {"count", bytes / 32}, {"type", type}});
            QFile bin(QString::fromStdString(at(std::string(name) + ".bin"))); // all holes
            if (!bin.open(QIODevice::WriteOnly) || !bin.resize(bytes))
                qFatal("no file with holes can be made");
            out.push_back(
                {write(std::string(name) + ".gltf", QByteArray::fromStdString(large.dump())), state});
        }
        return out;
    }

private slots:
    void initTestCase() {
        const int count = std::max(qEnvironmentVariableIntValue("HOBBLE_BATCH_CHARACTERS"), 12);
        const auto bodies = zoo::bodies();
        const auto conventions = zoo::conventions();
        for (int i = 0; i < count; ++i) {
            const auto& body = bodies[static_cast<std::size_t>(i) % bodies.size()];
            const auto& names =
                conventions[static_cast<std::size_t>(7 * i + i / int(bodies.size())) % conventions.size()];
            const std::string path = at(std::to_string(100 + i) + ".glb");
            const auto written = writeGlb(zoo::characterOf(body, names), path);
            QVERIFY2(written, written ? "" : written.error().c_str());
            whole_.push_back(path);
        }
    }

    void everyOtherRowIsRight() {
        const auto bad = trouble();
        std::vector<BatchCharacter> asked;
        std::map<std::string, BatchRow::State> told;
        const std::size_t every = std::max<std::size_t>(1, whole_.size() / bad.size());
        for (std::size_t i = 0; i < whole_.size() || i / every < bad.size(); ++i) { // strewn among the others
            if (i < whole_.size())
                asked.push_back(of(whole_[i]));
            if (i % every == 0 && i / every < bad.size()) {
                asked.push_back(of(bad[i / every].first));
                told[bad[i / every].first] = bad[i / every].second;
            }
        }
        BatchOptions o;
        o.program = QStringLiteral(HOBBLE_CLI);
        o.folder = folder_.filePath(QStringLiteral("out"));
        o.jobs = 2;
        o.secondsEach = 120;
        o.megabytesEach = 1500;
        o.reports = false;
        o.singles = true; // of motions; whole poses would take their time
        const auto rows = runBatch(asked, o);
        QVERIFY2(rows, rows ? "" : rows.error().c_str());
        QCOMPARE(rows->size(), asked.size());
        std::size_t looked = 0;
        for (std::size_t i = 0; i < asked.size(); ++i) {
            const BatchRow& row = (*rows)[i];
            QCOMPARE(row.character.file, asked[i].file);
            const auto expected = told.find(asked[i].file);
            const std::string said = asked[i].file + ": " + nameOf(row.state) + ", " + row.why;
            if (expected != told.end()) {
                QVERIFY2(row.state == expected->second, said.c_str());
                QVERIFY2(!row.why.empty() && row.faults.empty() && row.motions == 0, said.c_str());
                continue;
            }
            QVERIFY2(row.state == BatchRow::State::Tested, said.c_str());
            if (++looked % 4 != 1) // here as well, of every fourth
                continue;
            const auto character = readCharacter(asked[i].file);
            QVERIFY2(character, character ? "" : character.error().c_str());
            const Subject subject = prepareSubject(std::make_shared<const Character>(*character));
            const RunResult here = runPlan(subject, defaultPlan(*subject.character, subject.roles), {});
            QCOMPARE(row.hash, character->hash);
            QCOMPARE(row.motions, int(here.plan.motions.size()));
            QCOMPARE(row.findings, int(here.findings.size()));
            QCOMPARE(row.faults.size(), here.faults.size());
        }
        // asked again, only what could not be tested is tried again
        const auto again = runBatch(asked, o);
        QVERIFY(again);
        for (std::size_t i = 0; i < asked.size(); ++i)
            QCOMPARE((*again)[i].known, told.count(asked[i].file) == 0);
    }
};

HOBBLE_TEST(TestBatchOfStrangers)
#include "test_batch_of_strangers.moc"
