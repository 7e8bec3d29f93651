// Limits as a file: there and back, and plain words for what cannot be.
#include "io/limits_json.h"
#include "support/suite.h"

#include <QTest>
#include <nlohmann/json.hpp>

using namespace hobble;
using nlohmann::json;

class TestLimitsJson : public QObject {
    Q_OBJECT

private slots:
    void thereAndBack() {
        Limits l = Limits::standard();
        l.leastPatch = 0.03;
        l.general[Kind::Leak] = {0.001, 0.002, 0.003, 0.004};
        l.byRole[{Role::Tail, Kind::Pinch}] = {0.9, 0.8, 0.7, 0.6};
        const auto back = limitsFromJson(limitsToJson(l));
        QVERIFY2(back.ok(), back.error().c_str());
        QVERIFY(*back == l);
    }

    void whatIsLeftOutIsStandard() {
        const auto l = limitsFromJson(
            R"({"format": "hobble-limits", "version": 1, "general": {"stretch": [1.2, 1.3, 1.4, 1.5]}})");
        QVERIFY2(l.ok(), l.error().c_str());
        Limits expected = Limits::standard();
        expected.general[Kind::Stretch] = {1.2, 1.3, 1.4, 1.5};
        QVERIFY(*l == expected);
    }

    void plainWords_data() {
        QTest::addColumn<QString>("change");
        QTest::addColumn<QString>("says");
        const auto row = [](const char* name, const char* change, const char* says) {
            QTest::newRow(name) << QString::fromUtf8(change) << QString::fromUtf8(says);
        };
        row("format", R"({"format": "other"})", "hobble-limits");
        row("version", R"({"version": 2})", "another version");
        row("kind", R"({"general": {"strech": [1, 2, 3, 4]}})", "'strech'");
        row("role", R"({"byRole": {"elbo": {}}})", "'elbo'");
        row("falling", R"({"general": {"stretch": [1.5, 1.4, 1.6, 2]}})", "above the one before");
        row("wrong way", R"({"general": {"pinch": [1.2, 1.4, 1.6, 2]}})", "below the one before");
        row("three", R"({"general": {"pinch": [0.8, 0.7, 0.6]}})", "");
        row("words", R"({"general": {"pinch": "tight"}})", "wrong type");
        row("patch", R"({"leastPatch": 2})", "leastPatch");
    }
    void plainWords() {
        QFETCH(QString, change);
        QFETCH(QString, says);
        json in = json::parse(limitsToJson(Limits::standard()));
        in.update(json::parse(change.toStdString()));
        const auto l = limitsFromJson(in.dump());
        QVERIFY(!l.ok());
        QVERIFY2(QString::fromStdString(l.error()).contains(says), l.error().c_str());
    }

    void noFileAndNoJson() {
        QVERIFY(!limitsFromJson("{").ok());
        QVERIFY(!limitsFromJson("[]").ok());
        QVERIFY(!readLimits("/no/such/limits.json").ok());
    }
};

HOBBLE_TEST(TestLimitsJson)
#include "test_limits_json.moc"
