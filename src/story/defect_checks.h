#pragma once
// The defects of a log on a new build: each asked for at its own pose, place and measure, with a verdict in
// words and numbers. What is kept of a verdict is an event of the defect.
#include "core/compare/check_again.h"
#include "core/intake/check.h"
#include "log/proposal.h"
#include "story/build_shelf.h"

#include <QJsonObject>

namespace hobble {

enum class Beside { AsProposed, BetterThanProposed, LessThanProposed };

struct DefectCheck {
    Defect defect; // with pose and marks
    CheckedAgain told;
    bool wasClosed = false; // it is checked to see whether it came back
    bool cameBack = false;
    bool claimed = false;           // somebody says it is fixed, and it is not
    std::optional<Beside> proposed; // how it is beside what was proposed for it, where something was
    QString sentence;               // "better: 12 mm, was 54 mm; the right side still shows it"
    /// By its own verdict, and where somebody has to look.
    bool cured() const { return told.verdict == Verdict::Cured; }
};

struct DefectChecks {
    QVector<DefectCheck> checks; // worse and come back first, cured last
    QVector<int> withoutRun;     // numbers of builds that defects were seen on and the log keeps no run of
    int count(Verdict verdict) const; // of those that were open
    int cameBack() const;
    QString sentence() const; // "12 open defects checked: 6 cured, 3 better, 1 worse, 2 the same."
};

struct CheckInput {
    std::shared_ptr<const Subject> subject; // the new build
    std::shared_ptr<const RunResult> run;   // of the plan on it
    CheckFindings checks;                   // of Intake
    int build = 0;                          // its number; 0: none
    QVector<Defect> defects;           // with everything; those of states that say nothing are passed over
    QVector<KeptRun> runs;             // of earlier builds, for what got worse since
    QHash<qint64, Proposal> proposals; // the newest of a defect that has one
    BuildShelf* shelf = nullptr;       // where builds that defects were seen on are read; null: they are not
};

/// In the order of the defects; unfinished after a stop.
DefectChecks checkDefects(const CheckInput& input, const Progress& progress = {});

/// Open and closed ones: what a person has found to be nothing to fix is not asked for.
bool isChecked(const Defect& defect);

/// What was seen, to be asked for on `now`; nothing for what Intake found.
std::optional<SeenDefect> seenOf(const DefectFacts& facts, const Subject& now, const Plan& plan);

/// The event that keeps a verdict: "verdict", its name ("cured on one side" where the other still shows it),
/// and the sentence as the reason.
DefectChange verdictEvent(const DefectCheck& check);

/// Writes each verdict as an event, once for a build; in one transaction. `closeUpTo`: defects of that
/// severity and lighter that are cured are closed as well; 0: nothing is closed without a person. How many
/// events were written.
Result<int> keepVerdicts(ProductionLog& log, const DefectChecks& checks, const QString& author, qint64 build,
                         int closeUpTo = 0);

/// Every defect of the build's character that the log has and that is checked, asked for on it; the verdicts
/// are written as keepVerdicts does, where the log may be written. `in` has subject, run and Intake's checks;
/// the rest is read from the log.
Result<DefectChecks> checkLogged(ProductionLog& log, const Build& build, CheckInput in, const QString& author,
                                 int closeUpTo = 0);

/// As docs/schema/check.schema.json.
QJsonObject checksToJson(const DefectChecks& check, const Subject& subject, int build);
/// As JUnit's common dialect: a test for each defect, failed where it is not cured.
QByteArray checksToJunit(const DefectChecks& check, const Subject& subject);

} // namespace hobble
