#pragma once
// Two characters, one camera: side by side, or one over the other under a seam that is dragged across. What
// is pressed on one is marked at the same place on the other.
#include "app/session/compare_desk.h"
#include "app/view/viewport.h"

#include <QLabel>
#include <QThreadPool>
#include <QWidget>

namespace hobble {

/// Marks a place of the skin on a viewport.
class SpotTool : public ViewportTool {
    Q_OBJECT
public:
    explicit SpotTool(Viewport* viewport) : ViewportTool(viewport), viewport_(viewport) {
        viewport->addTool(this);
    }
    void mark(std::optional<SkinPlace> place);
    const std::optional<SkinPlace>& marked() const { return place_; }
    void paintOver(QPainter& p) override;

private:
    Viewport* viewport_;
    std::optional<SkinPlace> place_; // on the surface of the character shown
};

class SideBySide : public QWidget {
    Q_OBJECT
public:
    explicit SideBySide(CompareDesk* compare, QWidget* parent = nullptr);
    ~SideBySide() override;

    bool seamShown() const { return seamShown_; }
    void setSeamShown(bool on);
    double seam() const { return seam_; } // share of the width
    void setSeam(double share);
    void setColouring(Colouring c);
    Colouring colouring() const;
    void setDifferenceShown(bool on); // tints what lies elsewhere on the other
    bool differenceShown() const { return differenceShown_; }
    void frameChange(); // what is looked at, on both
    Viewport* before() const { return views_[0]; }
    Viewport* now() const { return views_[1]; }
    SpotTool* spot(std::size_t side) const { return spots_[side]; }
    QString differenceWords() const { return differenceWords_; }

signals:
    void differenceChanged();

protected:
    void resizeEvent(QResizeEvent*) override { layOut(); }
    void changeEvent(QEvent*) override;

private:
    class Handle;
    void layOut();
    void follow(std::size_t side); // the other camera does what this one did
    void take();
    void press(std::size_t side, std::uint32_t fileVertex);
    void showDifference();
    void tellDifference(const SkinDifference& difference);

    CompareDesk* compare_;
    std::array<Viewport*, 2> views_{};
    std::array<SpotTool*, 2> spots_{};
    std::array<QLabel*, 2> names_{};
    Handle* handle_ = nullptr;
    std::size_t leads_ = 1; // whose camera the other follows
    bool seamShown_ = false, following_ = false, differenceShown_ = false;
    double seam_ = 0.5;
    QString differenceWords_;
    std::uint64_t asked_ = 0; // the newest difference asked for; answers to older ones are too late
    QThreadPool asides_;
    std::shared_ptr<const Comparison> shownOf_;
    std::string framed_; // the motion that is in view
};

} // namespace hobble
