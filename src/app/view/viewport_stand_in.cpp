// A heavy character is drawn coarser while it, or the view, moves, and whole as soon as it rests. The coarser
// mesh is on the file's own vertices, so it has every pose and colour; pictures it is painted with and the
// smooth preview have vertices of their own and wait till it rests.
#include "app/view/viewport.h"
#include "picture/stand_in.h"

#include <QApplication>
#include <QPointer>
#include <QThreadPool>

namespace hobble {

void Viewport::makeStandIn() {
    standIn_.reset();
    standInShown_.clear();
    standInOf_ = nullptr;
    const auto& s = view_->subject();
    if (!s || s->character->triangles.size() <= kHeavy)
        return;
    standInOf_ = s->character->triangles.data();
    QThreadPool::globalInstance()->start([me = QPointer(this), character = s->character, of = standInOf_] {
        auto made = std::make_shared<const std::vector<Triangle>>(standIn(*character, kStandIn));
        QMetaObject::invokeMethod(
            qApp,
            [me, made, of] {
                if (!me || me->standInOf_ != of)
                    return;
                me->standIn_ = made;
                me->shownStale_ = true;
            },
            Qt::QueuedConnection);
    });
}

void Viewport::takeStandInShown() {
    const Character& c = *view_->subject()->character;
    standInShown_.clear();
    if (standIn_) {
        std::vector<char> seen(c.vertexCount(), 0);
        for (const Triangle& t : shownTriangles_)
            for (std::uint32_t v : t)
                seen[v] = 1;
        for (const Triangle& t : *standIn_)
            if (seen[t[0]] && seen[t[1]] && seen[t[2]])
                standInShown_.push_back(t);
    }
}

bool Viewport::standsIn() const { return rest_.isActive() && !standInShown_.empty(); }

} // namespace hobble
