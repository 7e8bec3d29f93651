#include "app/mend/joint_shares.h"

#include "app/theme.h"
#include "app/widgets/parts.h"
#include "core/words/finding_words.h"

#include <QEvent>
#include <QGridLayout>
#include <QPainter>
#include <QPushButton>
#include <QVBoxLayout>

#include <algorithm>
#include <cmath>

namespace hobble {

namespace {

constexpr std::size_t kMost = 7; // rows

// A joint's name as far as there is room: its beginning and its end, which tell sides apart.
class NameButton : public QPushButton {
public:
    explicit NameButton(QString name) : name_(std::move(name)) {
        setMinimumWidth(10);
        setSizePolicy(QSizePolicy::Ignored, QSizePolicy::Fixed);
    }

protected:
    void resizeEvent(QResizeEvent* e) override {
        QPushButton::resizeEvent(e);
        fit();
    }
    void changeEvent(QEvent* e) override {
        QPushButton::changeEvent(e);
        if (e->type() == QEvent::FontChange)
            fit();
    }

private:
    void fit() { setText(fontMetrics().elidedText(name_, Qt::ElideMiddle, width() - 14)); }
    QString name_;
};

class Bar : public QWidget {
public:
    explicit Bar(double share) : share_(share) { setTextSize(this, 36, 8); }

protected:
    void paintEvent(QPaintEvent*) override {
        QPainter p(this);
        const QRectF box = QRectF(rect()).adjusted(0, 1, 0, -1);
        p.fillRect(box, Theme::current().stripBody);
        p.fillRect(QRectF(box.left(), box.top(), box.width() * std::clamp(share_, 0.0, 1.0), box.height()),
                   Theme::current().better);
    }

private:
    double share_;
};

} // namespace

JointShares::JointShares(MendDesk* mend, QWidget* parent) : QWidget(parent), mend_(mend) {
    auto* all = new QVBoxLayout(this);
    all->setContentsMargins(0, 0, 0, 0);
    all->setSpacing(2);
    title_ = new QLabel(tr("Joints here"));
    setType(title_, 1.0, true);
    all->addWidget(title_);
    where_ = wrapped(QStringLiteral("sharesWhere"));
    where_->setProperty("quiet", true);
    setType(where_, 0.92);
    all->addWidget(where_);
    grid_ = new QGridLayout;
    grid_->setHorizontalSpacing(3);
    grid_->setVerticalSpacing(1);
    grid_->setColumnStretch(0, 1);
    all->addLayout(grid_);
    for (auto signal : {&MendDesk::madeChanged, &MendDesk::trialChanged, &MendDesk::poseChanged})
        connect(mend, signal, this, &JointShares::refresh);
    refresh();
}

void JointShares::show(std::vector<std::uint32_t> vertices, const QString& where) {
    vertices_ = std::move(vertices);
    words_ = where;
    refresh();
}

void JointShares::refresh() {
    empty(grid_);
    const auto& s = mend_->view().subject();
    setVisible(s != nullptr);
    shares_.clear();
    if (!s)
        return;
    const int inHand = mend_->joint();
    std::vector<std::uint32_t> where = vertices_;
    QString words = words_;
    if (where.empty() && inHand >= 0) {
        where = s->zones[static_cast<std::size_t>(inHand)].blendVertices;
        words = where.empty() ? tr("no skin blends at the joint in hand")
                              : tr("where the %1 blends").arg(QString::fromStdString(jointWords(*s, inHand)));
    }
    where.erase(std::remove_if(where.begin(), where.end(),
                               [&](std::uint32_t v) { return v >= s->surface.vertexCount(); }),
                where.end());
    where_->setText(words);
    shares_ = meanShares(*s, where);
    if (shares_.size() > kMost)
        shares_.resize(kMost);
    // what is held, and what is in hand, stands there though it has nothing here
    const auto stands = [&](int joint) {
        return std::any_of(shares_.begin(), shares_.end(), [&](const Share& x) { return x.joint == joint; });
    };
    for (const std::string& name : mend_->trial().locked)
        if (const int j = s->character->skeleton.find(name); j >= 0 && !stands(j))
            shares_.push_back({static_cast<std::uint16_t>(j), 0});
    if (inHand >= 0 && !stands(inHand))
        shares_.push_back({static_cast<std::uint16_t>(inHand), 0});
    int row = 0;
    for (const Share& share : shares_) {
        const int joint = share.joint;
        const QString name =
            QString::fromStdString(s->character->skeleton.name[static_cast<std::size_t>(joint)]);
        auto* take = new NameButton(name);
        take->setObjectName(QStringLiteral("inHand-") + name);
        take->setToolTip(tr("%1: take it in hand, strokes and verbs are about its share").arg(name));
        take->setCursor(Qt::PointingHandCursor);
        setType(take, 0.95, joint == inHand);
        take->setAccessibleName(joint == inHand ? tr("%1, in hand").arg(name) : name);
        connect(take, &QPushButton::clicked, this, [this, joint] { mend_->takeInHand(joint); });
        grid_->addWidget(take, row, 0);
        grid_->addWidget(new Bar(share.by), row, 1, Qt::AlignVCenter);
        auto* percent = new QLabel(tr("%1 %").arg(std::lround(100 * share.by)));
        percent->setObjectName(QStringLiteral("share-") + name);
        percent->setAlignment(Qt::AlignRight | Qt::AlignVCenter);
        setType(percent, 0.95);
        grid_->addWidget(percent, row, 2);
        const bool locked = mend_->locked(joint);
        auto* lock = new QPushButton(locked ? tr("locked") : tr("lock"));
        lock->setObjectName(QStringLiteral("lock-") + name);
        lock->setToolTip(tr("A locked joint's share is touched by no step"));
        lock->setAccessibleName(locked ? tr("%1 is locked").arg(name) : tr("Lock %1").arg(name));
        lock->setProperty("quiet", !locked);
        lock->setCursor(Qt::PointingHandCursor);
        setType(lock, 0.9, locked);
        connect(lock, &QPushButton::clicked, this,
                [this, joint, locked] { mend_->setLocked(joint, !locked); });
        grid_->addWidget(lock, row, 3);
        ++row;
    }
}

} // namespace hobble
