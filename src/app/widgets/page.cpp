#include "app/widgets/page.h"

#include <QButtonGroup>
#include <QComboBox>
#include <QJsonArray>
#include <QPushButton>
#include <QSplitter>

#include <numeric>

namespace hobble {

namespace {
const QString kSizes = QStringLiteral("sizes"), kStates = QStringLiteral("states");
}

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

QJsonObject Page::layoutToKeep() const {
    QJsonArray sizes;
    for (const QSplitter* splitter : findChildren<QSplitter*>()) {
        QJsonArray of;
        for (int size : splitter->sizes())
            of.append(size);
        sizes.append(of);
    }
    return {{kSizes, sizes}, {kStates, statesOf(namesInLayout())}};
}

void Page::layOutAs(const QJsonObject& kept) {
    const QJsonArray sizes = kept.value(kSizes).toArray();
    const QList<QSplitter*> splitters = findChildren<QSplitter*>();
    for (int i = 0; i < splitters.size() && i < sizes.size(); ++i) {
        QList<int> of;
        for (const QJsonValue& size : sizes[i].toArray())
            of << std::max(size.toInt(), 0);
        if (of.size() == splitters[i]->count() && std::accumulate(of.begin(), of.end(), 0) > 0)
            splitters[i]->setSizes(of);
    }
    setStates(kept.value(kStates).toObject());
}

QJsonObject Page::statesOf(const QStringList& names) const {
    QJsonObject out;
    for (const QString& name : names)
        if (const auto* box = findChild<QComboBox*>(name))
            out.insert(name, QJsonValue::fromVariant(box->currentData().isValid() ? box->currentData()
                                                                                  : box->currentIndex()));
        else if (const auto* button = findChild<QPushButton*>(name))
            out.insert(name, button->isChecked());
    return out;
}

void Page::setStates(const QJsonObject& states) {
    for (auto it = states.begin(); it != states.end(); ++it)
        if (auto* box = findChild<QComboBox*>(it.key())) {
            const int at = box->currentData().isValid() ? box->findData(it->toVariant()) : it->toInt();
            if (at < 0 || at >= box->count() || at == box->currentIndex())
                continue;
            box->setCurrentIndex(at);
            emit box->activated(at);
        } else if (auto* button = findChild<QPushButton*>(it.key())) {
            // of those of which one is down, only the one that is to be pressed
            if (button->isChecked() != it->toBool() && (it->toBool() || !button->group()))
                button->click();
        }
}

} // namespace hobble
