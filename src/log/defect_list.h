#pragma once
// Which defects are shown, in what groups and order: tens of thousands, at every key that is typed.
#include "log/production_log.h"

#include <QJsonObject>
#include <QSet>

namespace hobble {

struct DefectFilter {
    QString words;               // each has to appear in what the row says, or be its number
    QVector<DefectState> states; // none: all
    std::optional<QString> who;  // empty text: nobody
    QString character, limb, kind;
    int leastSeverity = 0;
    std::optional<QSet<qint64>> among; // only these: what somebody is mentioned in

    bool operator==(const DefectFilter&) const = default;
    QJsonObject toJson() const; // without `among`
    static DefectFilter fromJson(const QJsonObject& json);
};

/// The states somebody has still to do something about.
QVector<DefectState> openStates();

enum class DefectGrouping { None, Rigger, Limb, State, Kind, Build, Character };
enum class DefectOrder { Number, What, When, Severity, Use, Who, Since, State, Changed };

struct DefectGroup {
    QString title;     // empty where nothing is grouped
    QVector<int> rows; // places in the list's defects()
    int worst = 0;     // severity
};

class DefectList {
public:
    const QVector<Defect>& defects() const { return defects_; } // by number
    void setDefects(QVector<Defect> defects);
    /// Puts changed and new ones in their places. Both by number.
    void update(const QVector<Defect>& changed);
    /// More that was said, of which defect: words are looked for in it, too.
    void addComments(const QVector<std::pair<qint64, QString>>& comments);
    int placeOf(qint64 id) const; // −1 when there is none
    const Defect* find(qint64 id) const;

    /// Withdrawn ones are nowhere. Groups in the order of their words, states in their own.
    QVector<DefectGroup> arranged(const DefectFilter& filter, DefectGrouping grouping, DefectOrder order,
                                  bool descending) const;

private:
    QVector<Defect> defects_;
    QVector<QString> said_;           // per defect: all its words, in small letters
    QHash<qint64, QString> comments_; // likewise; of those that have any
};

/// What a row says of it: "120°", "neutral" for what Intake found.
QString whenWords(const DefectFacts& facts);
/// The sentence without the pose it was seen in.
QString whatWords(const DefectFacts& facts);

} // namespace hobble
