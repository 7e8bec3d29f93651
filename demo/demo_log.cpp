// hobble-make-demo-log DATA OUT.sqlite: a production log of the postmaster's story, with a made-up roster,
// the runs of builds 1 to 3, and defects in every state. Paths in it are relative to the project.
#include "core/run/run.h"
#include "io/character_read.h"
#include "io/plan_json.h"
#include "log/defect_list.h"
#include "log/finding_defect.h"
#include "log/production_log.h"
#include "picture/picture.h"

#include <QBuffer>
#include <QCoreApplication>
#include <QFile>
#include <QJsonDocument>
#include <QJsonObject>
#include <QSqlDatabase>
#include <QSqlQuery>

#include <cstdio>
#include <functional>
#include <utility>

using namespace hobble;

namespace {

[[noreturn]] void giveUp(const std::string& why) {
    std::fprintf(stderr, "hobble-make-demo-log: %s\n", why.c_str());
    std::exit(1);
}

template <class T> T must(Result<T> r) {
    if (!r)
        giveUp(r.error());
    return std::move(*r);
}

QByteArray png(const Subject& s, const Plan& plan, const Finding& f) {
    std::vector<Vec3> posed;
    deform(*s.character, poseAt(s.character->skeleton, plan.motions[f.motion], f.peak), Skinning::Linear,
           posed);
    Eigen::AlignedBox3d box;
    for (std::uint32_t t : f.triangles)
        for (std::uint32_t v : s.surface.triangles[t])
            box.extend(posed[s.surface.representative(v)].cast<double>());
    PictureView view;
    view.centre = box.center();
    view.height = std::max(0.28, 2.2 * box.sizes().maxCoeff());
    view.yaw = view.centre.x() >= 0 ? 40 : -40;
    QByteArray bytes;
    QBuffer buffer(&bytes);
    picture(*s.character, posed, view, 480, 360).save(&buffer, "PNG");
    return bytes;
}

struct Story {
    const char* joint;
    const char* kind; // of the finding it is logged from; any when empty
    const char* assignee;
    const char* due;
    std::vector<std::pair<const char*, const char*>>
        events; // "state", "comment" or "why" (of the state after it)
};

} // namespace

int main(int argc, char** argv) {
    QCoreApplication app(argc, argv);
    if (argc != 3)
        giveUp("usage: hobble-make-demo-log DATA OUT.sqlite");
    const std::string data = argv[1];
    const QString out = QString::fromLocal8Bit(argv[2]);
    QFile::remove(out);
    const QString lead = QStringLiteral("Petra Sandwort");
    auto log = must(ProductionLog::open(out));
    for (const char* name : {"Petra Sandwort", "Ines Marram", "Tobias Glasswort", "Wim Knot",
                             "Hedda Samphire", "Jonas Eelgrass"})
        must(log->addPerson(QString::fromLatin1(name),
                            QString::fromLatin1(name).section(QLatin1Char(' '), 0, 0).toLower() +
                                QStringLiteral("@saltmarsh-post.example")));
    DefectFilter worst;
    worst.states = openStates();
    worst.leastSeverity = 3;
    must(log->keepTeamFilter(QStringLiteral("Before the Monday meeting"),
                             QJsonDocument(worst.toJson()).toJson(QJsonDocument::Compact), lead));

    const std::vector<std::vector<Story>> stories{
        {{"hand.L",
          "",
          "Ines Marram",
          "build 2",
          {{"state", "being fixed"},
           {"comment", "Left over from a copied arm. Cleared and smoothed."},
           {"state", "to be checked"},
           {"state", "closed"}}},
         {"foot.R", "", "Ines Marram", "build 2", {{"state", "being fixed"}, {"state", "to be checked"}}},
         {"forearm.L",
          "",
          "Tobias Glasswort",
          "build 2",
          {{"state", "being fixed"},
           {"comment", "Widened over three loops on the right; the left is still to do."},
           {"comment", "@Petra the sleeve on top has to follow, is that mine too?"}}},
         {"hand.R",
          "",
          "Wim Knot",
          "build 3",
          {{"state", "being fixed"},
           {"comment", "The twist joints are there, I had unhooked them for an export."},
           {"state", "to be checked"}}},
         {"pelvis",
          "soft rigid part",
          "Tobias Glasswort",
          "build 2",
          {{"state", "to be checked"}, {"state", "closed"}}},
         {"thigh.L", "pop", "Wim Knot", "build 3", {{"state", "being fixed"}}},
         {"upper_arm.R",
          "",
          "Hedda Samphire",
          "build 3",
          {{"comment", "The coat was weighted before the shoulders were redone."},
           {"state", "to be checked"}}},
         {"middle_2.L", "", "Wim Knot", "build 2", {{"state", "to be checked"}, {"state", "closed"}}},
         {"tail_end",
          "",
          "",
          "",
          {{"why", "Seen only beyond 70°. No shot bends it that far."}, {"state", "accepted for this show"}}},
         {"index_2.L", "", "", "", {{"why", "A crease like any knuckle's."}, {"state", "intended"}}},
         {"thigh.R", "", "", "", {{"state", "withdrawn"}}}},
        {{"shin.L", "", "Ines Marram", "build 4", {{"state", "being fixed"}}},
         {"shin.R", "", "Wim Knot", "build 4", {}},
         {"upper_arm.L",
          "stretch",
          "Jonas Eelgrass",
          "build 3",
          {{"comment", "Half done: the front is smooth, the back is not."}}},
         {"foot.L",
          "",
          "",
          "",
          {{"why", "The clip turns the foot past what a foot does."},
           {"state", "not the character's fault"}}},
         {"forearm.L",
          "",
          "Ines Marram",
          "build 4",
          {{"comment", "@Tobias is that not yours from before?"}}}},
        {{"forearm.R",
          "",
          "Hedda Samphire",
          "build 4",
          {{"comment", "New in this build: the sleeve was fine before."}}},
         {"shin.R", "volume loss", "", "", {}},
         {"thigh.L", "", "", "", {}},
         {"spine_2", "", "", "", {}}}};
    const char* days[] = {"2026-11-02", "2026-11-10", "2026-11-19"};
    for (int b = 0; b < 3; ++b) {
        const std::string relative = "builds/" + std::to_string(b + 1) + "/badger-postmaster.glb";
        const Subject s =
            prepareSubject(std::make_shared<const Character>(must(readCharacter(data + "/" + relative))));
        const Plan plan = defaultPlan(*s.character, s.roles);
        const RunResult run = runPlan(s, plan);
        const Build build =
            must(log->build(QStringLiteral("badger-postmaster"), QString::fromStdString(s.character->hash),
                            QString::fromStdString("demo/data/" + relative)));
        must(log->addRun(summaryOf(s, run, build.id)));
        const CheckFindings checks = inspect(s);
        must(log->addInspection(build.id, intakeScore(checks), static_cast<int>(checks.size()),
                                inspectionToJson(s, checks)));
        static const char* notes[] = {"First skinning, arms copied over.", "Sleeves done again by Tobias.",
                                      ""};
        if (*notes[b])
            must(log->noteBuild(build.id, QString::fromLatin1(notes[b]), lead));
        for (const Story& story : stories[static_cast<std::size_t>(b)]) {
            const Finding* found = nullptr;
            for (const Finding& f : run.findings)
                if (!found && s.character->skeleton.name[f.joint] == story.joint &&
                    (*story.kind == 0 || std::string(nameOf(f.kind)) == story.kind))
                    found = &f;
            if (!found) {
                std::printf("build %d finds nothing at %s (%s)\n", b + 1, story.joint, story.kind);
                continue;
            }
            DefectFacts facts = factsOf(s, plan, *found);
            facts.buildId = build.id;
            facts.picture = png(s, plan, *found);
            const qint64 id = must(log->addDefect(facts, found->severity, lead));
            auto change = [&](const char* field, const QString& value, const QString& by,
                              const QString& why = {}) {
                DefectChange c{id,   QString::fromLatin1(field), value, must(log->defect(id)).version, why,
                               false};
                c.takesBack = value == QLatin1String("withdrawn");
                must(log->change({c}, by, build.id));
            };
            if (*story.assignee)
                change("assignee", QString::fromLatin1(story.assignee), lead);
            if (*story.due)
                change("due", QString::fromLatin1(story.due), lead);
            const QString by = *story.assignee ? QString::fromLatin1(story.assignee) : lead;
            QString why;
            for (const auto& [field, value] : story.events) {
                const QString said = QString::fromUtf8(value);
                const bool lead_ = said == QLatin1String("closed"); // who checks is not who fixed
                if (std::string(field) == "why")
                    why = said;
                else
                    change(field, said, lead_ ? lead : by, std::exchange(why, {}));
            }
        }
        if (b == 1) // two that are one fault
            for (const auto all = must(log->defects()); const Defect& d : all)
                for (const Defect& first : all)
                    if (d.build.number == 2 && first.build.number == 1 &&
                        d.facts.joint == QLatin1String("forearm.L") && first.facts.joint == d.facts.joint)
                        must(log->change({{d.id,
                                           QStringLiteral("duplicate of"),
                                           QString::number(first.id),
                                           d.version,
                                           {},
                                           false},
                                          {d.id, QStringLiteral("state"), QStringLiteral("duplicate"),
                                           d.version, QStringLiteral("the same elbow, one build on"), false}},
                                         lead, build.id));
        // The story's days, not today: each build's events on its own day, a few minutes apart.
        {
            QSqlDatabase db = QSqlDatabase::addDatabase(QStringLiteral("QSQLITE"), QStringLiteral("days"));
            db.setDatabaseName(out);
            if (!db.open())
                giveUp("the log cannot be opened again");
            QSqlQuery q(db);
            const QString day = QString::fromLatin1(days[b]);
            q.exec(QStringLiteral("UPDATE event SET at = '%1T' || printf('%02d:%02d', 9 + (id / 12) % 8, (id "
                                  "% 12) * 5) || ':00.000Z' "
                                  "WHERE at > '2026-11-20'")
                       .arg(day));
            q.exec(QStringLiteral(
                "UPDATE defect_now SET logged_at = (SELECT MIN(at) FROM event e WHERE e.defect_id ="
                " defect_now.defect_id), changed_at = (SELECT at FROM event e WHERE e.id ="
                " defect_now.version)"));
            q.exec(QStringLiteral("UPDATE build SET seen_at = '%1T08:30:00.000Z' WHERE number = %2")
                       .arg(day)
                       .arg(b + 1));
            for (const char* table : {"inspection", "build_event"})
                q.exec(QStringLiteral("UPDATE %1 SET at = '%2T08:32:00.000Z' WHERE build_id = %3")
                           .arg(QLatin1String(table), day)
                           .arg(build.id));
            q.exec(QStringLiteral("UPDATE run SET at = '%1T08:31:00.000Z' WHERE build_id = %2")
                       .arg(day)
                       .arg(build.id));
            q.clear();
            db.close();
        }
        QSqlDatabase::removeDatabase(QStringLiteral("days"));
    }
    for (const Person& p : must(log->people()))
        if (p.name.startsWith(QLatin1String("Jonas")))
            must(log->setPersonActive(p.id, false)); // has left for another show
    log.reset();
    { // one file, no journal beside it
        QSqlDatabase db = QSqlDatabase::addDatabase(QStringLiteral("QSQLITE"), QStringLiteral("pack"));
        db.setDatabaseName(out);
        db.open();
        QSqlQuery q(db);
        q.exec(QStringLiteral("PRAGMA journal_mode=DELETE"));
        q.exec(QStringLiteral("VACUUM"));
        q.clear();
        db.close();
    }
    QSqlDatabase::removeDatabase(QStringLiteral("pack"));
    std::printf("%s\n", argv[2]);
    return 0;
}
