#pragma once
// The joints that matter here: those with a share of the skin under the brush, of what is marked, or where
// the joint in hand blends. Each with its share and a lock; a press takes it in hand.
#include "app/session/mend_desk.h"

#include <QWidget>

class QLabel;
class QGridLayout;

namespace hobble {

class JointShares : public QWidget {
    Q_OBJECT
public:
    explicit JointShares(MendDesk* mend, QWidget* parent = nullptr);
    /// Of these welded vertices; `where` says what they are. None: where the joint in hand blends.
    void show(std::vector<std::uint32_t> vertices, const QString& where);
    const std::vector<Share>& shares() const { return shares_; }

private:
    void refresh();

    MendDesk* mend_;
    QLabel *title_, *where_;
    QGridLayout* grid_;
    std::vector<std::uint32_t> vertices_;
    QString words_;
    std::vector<Share> shares_;
};

} // namespace hobble
