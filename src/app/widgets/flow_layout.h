#pragma once
// Words side by side, as many as fit, then on the next line: large text needs more lines, not a wider window.
#include <QLayout>

namespace hobble {

class FlowLayout : public QLayout {
public:
    explicit FlowLayout(int gap = 6, QWidget* parent = nullptr) : QLayout(parent), gap_(gap) {}
    void setLineGap(int gap) { lineGap_ = gap; }
    ~FlowLayout() override;
    void addItem(QLayoutItem* item) override { items_ << item; }
    int count() const override { return static_cast<int>(items_.size()); }
    QLayoutItem* itemAt(int i) const override { return items_.value(i); }
    QLayoutItem* takeAt(int i) override;
    Qt::Orientations expandingDirections() const override { return {}; }
    bool hasHeightForWidth() const override { return true; }
    int heightForWidth(int width) const override { return arrange({0, 0, width, 0}, false); }
    void setGeometry(const QRect& rect) override;
    QSize sizeHint() const override;
    QSize minimumSize() const override;

private:
    int arrange(const QRect& rect, bool place) const; // returns the height
    QList<QLayoutItem*> items_;
    int gap_, lineGap_ = 2;
};

} // namespace hobble
