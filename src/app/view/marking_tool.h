#pragma once
// A patch of skin marked by hand, for what no rule found: with a brush, with a lasso, or the whole zone of a
// joint. Only skin that is seen is marked. Every stroke can be undone.
#include "app/view/viewport.h"

#include <QPolygonF>

class QUndoStack;

namespace hobble {

enum class MarkTool { None, Brush, Lasso };

class MarkingTool : public ViewportTool {
    Q_OBJECT
public:
    MarkingTool(Viewport* viewport, QUndoStack* undo);

    MarkTool tool() const { return tool_; }
    void setTool(MarkTool tool);
    void setBrush(int pixels) { brush_ = pixels; }
    std::vector<std::uint32_t> marked() const; // triangles of the surface, ascending
    void markRegion();                         // the zone of the joint looked at
    void grow();                               // by one ring of triangles, over their own pieces of skin
    void shrink();
    void markPiece();                                       // all of the pieces that are marked in part
    void mark(const std::vector<std::uint32_t>& triangles); // of the surface, besides what is
    void clear();

    bool press(QMouseEvent*) override;
    void move(QMouseEvent*) override;
    void release(QMouseEvent*) override;
    bool click(QMouseEvent*) override { return tool_ != MarkTool::None; }
    void paintOver(QPainter&) override;
    bool takesPointer() const override { return tool_ != MarkTool::None; }

signals:
    void toolChanged();
    void markedChanged();

private:
    using Marks = std::vector<char>; // per file triangle
    void brushAt(const QPointF& at, bool take);
    void closeLasso(bool take);
    void setMarks(Marks marks);
    void pushMarks(Marks before, const QString& text);
    void ring(bool more, const QString& text);

    Viewport* viewport_;
    QUndoStack* undo_;
    MarkTool tool_ = MarkTool::None;
    int brush_ = 28; // pixels, radius
    Marks marks_, strokeFrom_;
    QPolygonF lasso_;
};

} // namespace hobble
