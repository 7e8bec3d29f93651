#pragma once
// The log's defects on the open build, each with its verdict in words and numbers: two lines a row.
#include "app/session/compare_desk.h"

#include <QAbstractListModel>
#include <QListView>
#include <QStyledItemDelegate>

namespace hobble {

class VerdictModel : public QAbstractListModel {
    Q_OBJECT
public:
    enum Role { DefectRole = Qt::UserRole + 1, SentenceRole, SeverityRole, VerdictRole, SettledRole };

    explicit VerdictModel(CompareDesk* compare, QObject* parent = nullptr);
    int rowCount(const QModelIndex& parent = {}) const override;
    QVariant data(const QModelIndex& index, int role) const override;
    int rowOf(qint64 defect) const;

private:
    CompareDesk* compare_;
};

class VerdictDelegate : public QStyledItemDelegate {
    Q_OBJECT
public:
    using QStyledItemDelegate::QStyledItemDelegate;
    void paint(QPainter* p, const QStyleOptionViewItem& option, const QModelIndex& index) const override;
    QSize sizeHint(const QStyleOptionViewItem& option, const QModelIndex& index) const override;
};

class VerdictList : public QListView {
    Q_OBJECT
public:
    explicit VerdictList(CompareDesk* compare, QWidget* parent = nullptr);
    qint64 chosen() const; // 0: none
    void choose(qint64 defect);
    void step(int by);

signals:
    void chosenChanged();

protected:
    void resizeEvent(QResizeEvent* e) override;

private:
    CompareDesk* compare_;
    VerdictModel* model_;
    qint64 kept_ = 0; // what is chosen, over a change of the list
};

} // namespace hobble
