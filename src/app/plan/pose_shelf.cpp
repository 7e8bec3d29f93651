#include "app/plan/pose_shelf.h"

#include "app/theme.h"
#include "app/widgets/flow_layout.h"
#include "picture/picture.h"

#include <QApplication>
#include <QBuffer>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QPointer>
#include <QPushButton>
#include <QThreadPool>
#include <QVBoxLayout>

namespace hobble {

namespace {

constexpr int kWidth = 80, kHeight = 88; // of a thumbnail
enum ItemData { KindRole = Qt::UserRole, IndexRole, KeyRole };
enum ItemKind { PlanPose, KeptPose };

// Another pose of the same name has another thumbnail.
std::string keyOf(const Motion& m) {
    double sum = 0;
    for (const JointTurn& t : m.turns)
        sum = 1.1 * sum + t.share * (t.axis.x() + 2 * t.axis.y() + 3 * t.axis.z()) * (t.joint + 1);
    return "plan " + m.id + " " + std::to_string(sum);
}

QImage thumbnail(const Subject& s, const Pose& pose, Skinning method) {
    std::vector<Vec3> posed;
    deform(*s.character, drive(*s.character, pose), method, posed, &s.lanes);
    return picture(*s.character, posed, viewOf(*s.character, posed), kWidth, kHeight);
}

} // namespace

PoseShelf::PoseShelf(BuildDesk* build, PlanDesk* plan, PoseDesk* pose, RunDesk* run, QWidget* parent)
    : QWidget(parent), build_(build), plan_(plan), pose_(pose), run_(run) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(6);
    list_ = new QListWidget;
    list_->setObjectName(QStringLiteral("poseShelf"));
    list_->setAccessibleName(tr("Pose shelf"));
    list_->setViewMode(QListView::IconMode);
    list_->setResizeMode(QListView::Adjust);
    list_->setMovement(QListView::Static);
    list_->setIconSize(QSize(kWidth, kHeight));
    list_->setGridSize(QSize(px(91), kHeight + px(38)));
    list_->setUniformItemSizes(true);
    list_->setWordWrap(true);
    list_->setTextElideMode(Qt::ElideRight);
    list_->setFrameShape(QFrame::NoFrame);
    list_->setMinimumHeight(2 * kHeight);
    list_->setVerticalScrollMode(QAbstractItemView::ScrollPerPixel);
    connect(list_, &QListWidget::itemActivated, this, &PoseShelf::show);
    connect(list_, &QListWidget::itemClicked, this, &PoseShelf::show);
    connect(list_, &QListWidget::currentItemChanged, this,
            [this](QListWidgetItem* item) { away_->setEnabled(item); });
    column->addWidget(list_, 1);
    auto* words = new QLabel(tr("The pose on the character:"));
    words->setProperty("quiet", true);
    column->addWidget(words);
    name_ = new QLineEdit;
    name_->setObjectName(QStringLiteral("poseName"));
    name_->setPlaceholderText(tr("its name"));
    name_->setAccessibleName(tr("Name of the pose"));
    name_->setMaxLength(60);
    column->addWidget(name_);
    auto* row = new FlowLayout(4);
    row->setContentsMargins(0, 0, 0, 0);
    const auto button = [&](const QString& text, const char* name, auto does) {
        auto* b = new QPushButton(text);
        b->setObjectName(QLatin1String(name));
        connect(b, &QPushButton::clicked, this, does);
        row->addWidget(b);
        return b;
    };
    button(tr("Put in the plan"), "poseToPlan", &PoseShelf::putInPlan)->setProperty("strong", true);
    button(tr("Keep on the shelf"), "poseToShelf", &PoseShelf::keep);
    away_ = new QPushButton(tr("Take away"));
    away_->setObjectName(QStringLiteral("poseAway"));
    away_->setEnabled(false);
    connect(away_, &QPushButton::clicked, this, &PoseShelf::takeAway);
    row->addWidget(away_);
    auto* buttons = new QWidget;
    buttons->setLayout(row);
    column->addWidget(buttons);
    connect(plan_, &PlanDesk::planChanged, this, &PoseShelf::refresh);
    connect(build_, &BuildDesk::characterChanged, this, &PoseShelf::refresh);
    connect(pose_, &PoseDesk::shelfChanged, this, &PoseShelf::refresh);
    connect(pose_, &PoseDesk::poseChanged, this, [this] {
        if (const QString name = pose_->poseName(); !name.isEmpty() && !name_->hasFocus())
            name_->setText(name);
    });
    refresh();
}

void PoseShelf::refresh() {
    const auto s = build_->subject();
    if (!s)
        return;
    if (shownCharacter_ != s->character->hash) {
        thumbnails_.clear();
        shownCharacter_ = s->character->hash;
    }
    const QString chosen = list_->currentItem() ? list_->currentItem()->data(KeyRole).toString() : QString();
    list_->clear();
    const auto add = [&](const std::string& name, ItemKind kind, int index, const std::string& key) {
        auto* item = new QListWidgetItem(QString::fromStdString(name), list_);
        item->setData(KindRole, kind);
        item->setData(IndexRole, index);
        item->setData(KeyRole, QString::fromStdString(key));
        item->setTextAlignment(Qt::AlignHCenter | Qt::AlignTop);
        item->setToolTip(kind == PlanPose ? tr("%1: in the plan").arg(QString::fromStdString(name))
                                          : tr("%1: kept on the shelf").arg(QString::fromStdString(name)));
        QImage image(kWidth, kHeight, QImage::Format_RGB32);
        image.fill(Theme::current().viewport);
        if (const auto known = thumbnails_.find(key); known != thumbnails_.end())
            image = known->second;
        item->setIcon(QPixmap::fromImage(image));
        if (item->data(KeyRole).toString() == chosen)
            list_->setCurrentItem(item);
    };
    const auto& shelf = pose_->shelf();
    for (std::size_t i = 0; i < shelf.size(); ++i)
        add(shelf[i].pose.name, KeptPose, static_cast<int>(i), "shelf " + shelf[i].pose.name);
    const auto& motions = plan_->plan().motions;
    for (std::size_t m = 0; m < motions.size(); ++m)
        if (motions[m].span == Span::Percent && motions[m].limb == Limb::Poses)
            add(wordsFor(motions[m]), PlanPose, static_cast<int>(m), keyOf(motions[m]));
    paintThumbnails();
}

void PoseShelf::showEvent(QShowEvent* event) {
    QWidget::showEvent(event);
    paintThumbnails();
}

// On a thread of its own, one after the other, once somebody can see them; what is there already is not made
// again.
void PoseShelf::paintThumbnails() {
    struct Wanted {
        std::string key;
        Pose pose;
    };
    const auto s = build_->subject();
    const int round = ++*making_;
    if (!s || !isVisible())
        return;
    std::vector<Wanted> wanted;
    for (int i = 0; i < list_->count(); ++i) {
        const QListWidgetItem* item = list_->item(i);
        const std::string key = item->data(KeyRole).toString().toStdString();
        if (thumbnails_.count(key))
            continue;
        const auto index = static_cast<std::size_t>(item->data(IndexRole).toInt());
        if (item->data(KindRole).toInt() == PlanPose) {
            const Motion& m = plan_->plan().motions[index];
            wanted.push_back({key, poseAt(s->character->skeleton, m, m.limit())});
        } else {
            wanted.push_back({key, poseFor(pose_->shelf()[index].pose, *s->character, s->roles)});
        }
    }
    if (wanted.empty())
        return;
    QThreadPool::globalInstance()->start([guard = QPointer<PoseShelf>(this), s, wanted = std::move(wanted),
                                          making = making_, round, method = run_->method()] {
        for (const auto& w : wanted) {
            if (*making != round)
                return;
            QImage image = thumbnail(*s, w.pose, method);
            QMetaObject::invokeMethod(qApp, [guard, s, key = w.key, image = std::move(image)] {
                if (!guard || guard->build_->subject() != s)
                    return;
                guard->thumbnails_[key] = image;
                for (int i = 0; i < guard->list_->count(); ++i)
                    if (guard->list_->item(i)->data(KeyRole).toString().toStdString() == key)
                        guard->list_->item(i)->setIcon(QPixmap::fromImage(image));
            });
        }
    });
}

void PoseShelf::show(QListWidgetItem* item) {
    const auto s = build_->subject();
    if (!item || !s)
        return;
    const auto index = static_cast<std::size_t>(item->data(IndexRole).toInt());
    if (item->data(KindRole).toInt() == KeptPose) {
        pose_->showShelfPose(static_cast<int>(index));
    } else if (index < plan_->plan().motions.size()) {
        const Motion& m = plan_->plan().motions[index];
        pose_->showPose(poseAt(s->character->skeleton, m, m.limit()), QString::fromStdString(wordsFor(m)));
    }
    name_->setText(pose_->poseName());
}

void PoseShelf::keep() {
    const auto s = build_->subject();
    if (!s)
        return;
    if (name_->text().trimmed().isEmpty())
        return name_->setFocus();
    QByteArray png;
    QBuffer buffer(&png);
    buffer.open(QIODevice::WriteOnly);
    thumbnail(*s, pose_->pose(), run_->method()).save(&buffer, "PNG");
    thumbnails_.erase("shelf " + name_->text().trimmed().toStdString());
    if (pose_->keepOnShelf(name_->text(), png))
        emit told(tr("“%1” is on the shelf, for any character.").arg(name_->text().trimmed()));
}

void PoseShelf::putInPlan() {
    if (name_->text().trimmed().isEmpty())
        return name_->setFocus();
    pose_->putInPlan(pose_->pose(), name_->text().trimmed(), tr("posed by hand"));
}

void PoseShelf::takeAway() {
    const QListWidgetItem* item = list_->currentItem();
    if (!item)
        return;
    const int index = item->data(IndexRole).toInt();
    if (item->data(KindRole).toInt() == KeptPose)
        pose_->takeOffShelf(index);
    else
        plan_->takeOut(plan_->plan().motions[static_cast<std::size_t>(index)].id);
}

} // namespace hobble
