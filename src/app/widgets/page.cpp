#include "app/widgets/page.h"

namespace hobble {

QAction* Page::addFromAnywhere(ActionBook& book, const char* id, const QString& text,
                               std::function<void()> does) {
    return book.add(
        QLatin1String(id), text, {},
        [this, does = std::move(does)] {
            emit wanted();
            does();
        },
        window());
}

} // namespace hobble
