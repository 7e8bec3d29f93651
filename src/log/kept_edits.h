#pragma once
// What a lead said while the log could not be written: kept in a file of its own until it can be offered
// again, so that nothing is lost when Hobble is closed meanwhile.
#include "log/defect_split.h"
#include "log/team_change.h"

namespace hobble {

struct KeptEdit {
    QDateTime at;
    QString author, words;           // for people: "defect 12: severity 3"
    std::optional<DefectFacts> logs; // a new defect, of this severity
    int severity = 0;
    std::optional<SplitPart> splits; // or one that is taken out of defect change.defect
    std::optional<TeamChange> team;  // or what the team agrees on
    DefectChange change;             // or a change of a defect
};

class KeptEdits {
public:
    /// Reads what is there. `place` is the log they are meant for; those of other logs stay in the file
    /// untouched.
    KeptEdits(QString file, QString place);
    const QVector<KeptEdit>& edits() const { return edits_; }
    Result<Done> add(const KeptEdit& edit);
    Result<Done> remove(int index);
    Result<Done> clear();

private:
    Result<Done> write() const;
    QString file_, place_;
    QVector<KeptEdit> edits_;
};

/// Writes one of them to the log. What was written already, and only the answer was lost, is not written
/// twice. Returns the clash, if there is one.
Result<std::optional<Clash>> writeKept(ProductionLog& log, const KeptEdit& edit);

} // namespace hobble
