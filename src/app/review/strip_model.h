#pragma once
// Every motion of the plan as a strip: groups (limbs) at the top level, rows below; worst first, all rows are
// one group without a name. A row holds a motion, or the left and the right of one; its curve is the trouble
// along the angle, from the run.
#include "app/session/exposure_desk.h"
#include "core/compare/differences.h"

#include <QAbstractItemModel>

namespace hobble {

struct StripCurve : TroubleCurve {
    int motion = -1; // of the plan; -1 when this half of the row is empty
    double limit = 0;
    QString unit;            // of the motion: "°", " %", or nothing for frames
    TroubleCurve earlier;    // in the nearest earlier build; empty when the log has none
    TroubleCurve good;       // of the build taken as the reference; empty when there is none
    std::vector<double> use; // of the show's frames, the share in each equal part of the way; may be empty
    double furthest = 0;     // that the show goes, in the unit of the motion
    UsePast past;            // its onset
    double change = 0; // since then: the largest, positive for worse; 0 where nothing changed that counts
};

struct StripRow {
    QString name;
    StripCurve left, right, single; // either single, or left and right
    double worst() const { return std::max({left.worst, right.worst, single.worst}); }
    /// Frames of the show's clips that go past where trouble begins.
    std::size_t framesPast() const {
        return std::max({left.past.frames, right.past.frames, single.past.frames});
    }
};

enum class StripOrder { Body, WorstFirst, MostUsedFirst };

/// Whether the show's clips go past where a motion's trouble begins.
enum class Reached { Any, Yes, Never };

/// Which rows are shown, and by which measure.
struct StripFilter {
    std::optional<Kind> kind; // nothing: the worst of all
    int severity = 0;         // rows that reach at least this
    int joint = -1;           // rows that turn this one; -1: any
    bool onlyChanged = false; // since the earlier build
    bool good = false;        // the reference stands behind
    Reached reached = Reached::Any;
};

class StripModel : public QAbstractItemModel {
    Q_OBJECT
public:
    enum Role { WorstRole = Qt::UserRole + 1, SentenceRole };

    StripModel(PlanDesk* plan, RunDesk* run, ExposureDesk* exposure, QObject* parent = nullptr);

    QModelIndex index(int row, int column, const QModelIndex& parent = {}) const override;
    QModelIndex parent(const QModelIndex& index) const override;
    int rowCount(const QModelIndex& parent = {}) const override;
    int columnCount(const QModelIndex& = {}) const override { return 1; }
    QVariant data(const QModelIndex& index, int role) const override;

    bool isGroup(const QModelIndex& index) const { return index.isValid() && !index.parent().isValid(); }
    const StripRow&
    row(const QModelIndex& index) const;   // a group gives the worst of its members at each share
    QModelIndex indexOf(int motion) const; // the row that shows a motion
    StripOrder order() const { return order_; }

    const StripFilter& filter() const { return filter_; }
    void setFilter(const StripFilter& filter);

public slots:
    void setOrder(hobble::StripOrder order);

signals:
    void orderChanged(); // by hand: what is first now is what is to be seen

private:
    struct Group {
        Limb limb = Limb::Other;
        StripRow summary;
        std::vector<StripRow> rows;
    };
    StripCurve curveOf(int motion) const;
    void rebuild();
    void updateMotion(int motion);
    bool passes(const StripRow& row) const;
    static void summarise(Group& group);
    PlanDesk* plan_;
    RunDesk* run_;
    ExposureDesk* exposure_;
    std::vector<Group> groups_;
    StripOrder order_ = StripOrder::Body;
    StripFilter filter_;
};

} // namespace hobble
