#pragma once
// What Intake points at on the character in neutral: the vertices of a check, and the joints with what they
// are taken for.
#include "app/view/viewport.h"

namespace hobble {

class PointingTool : public ViewportTool {
    Q_OBJECT
public:
    explicit PointingTool(Viewport* viewport);

    /// `joint` −1 and no vertices: nothing. Vertices are those of the file, by part.
    void pointAt(int joint, const std::vector<std::pair<int, std::vector<std::uint32_t>>>& vertices);
    /// Frames what is pointed at: its vertices where there are some, else its joint; all where there is
    /// nothing.
    void frame();
    void setRolesShown(bool on);
    bool rolesShown() const { return rolesShown_; }

    bool click(QMouseEvent*) override;
    void paintOver(QPainter&) override;
    bool paintsSkeleton() const override { return rolesShown_; }

signals:
    void jointPressed(int joint); // while roles are shown

private:
    int jointNear(const QPointF& at) const; // −1 where none is within reach of the pointer
    void paintPointed(QPainter& p);
    void paintRoles(QPainter& p);

    Viewport* viewport_;
    int joint_ = -1;
    std::vector<std::uint32_t> vertices_; // of the file, over the whole character
    bool rolesShown_ = false;
};

} // namespace hobble
