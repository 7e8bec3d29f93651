#pragma once
// What the window knows of a page: its name and count in the line of pages, its actions and their keys, where
// the keyboard goes first. A page stands beside the others and includes none of them; what it wants of them
// it asks the window for, by signals.
#include "app/action_book.h"

#include <QJsonObject>
#include <QWidget>

namespace hobble {

class Page : public QWidget {
    Q_OBJECT
public:
    using QWidget::QWidget;

    virtual QString id() const = 0;              // "intake": never shown, never changed
    virtual QString title() const = 0;           // "Intake"
    virtual QString count() const { return {}; } // beside the title: "2", "14 open"
    virtual void addActions(ActionBook& book) = 0;
    virtual QString keyLine(const ActionBook& book) const = 0; // the keys one needs most, as they are set now
    virtual QWidget* firstFocus() = 0;
    virtual void restyle() {} // after a change of theme
    /// What is chosen here, as the manual has it under "Why does it say this?"; empty: nothing is.
    virtual QString asksWhy() const { return {}; }

    // Where one is, kept for another day (app/kept_session.h). What is the same whoever is open: sizes,
    // filters, what the skin is coloured by. And the place on the character that is open, of which a part may
    // be there only once it has been run: then it is asked again.
    virtual QJsonObject layoutToKeep() const;
    virtual void layOutAs(const QJsonObject& kept);
    virtual QJsonObject placeToKeep() const { return {}; }
    virtual void goBackTo(const QJsonObject&) {}

signals:
    void countChanged();
    void wanted();                                   // to be in front
    void defectWanted(qint64 id);                    // in the log's list
    void compareWanted(qint64 build, qint64 defect); // side by side; 0: whatever is there
    // a cure to be tried: of a finding of the run, of a defect of the log, at a joint
    void mendWanted(int finding);
    void mendDefectWanted(qint64 defect);
    void mendJointWanted(int joint);
    void mendSkinWanted(int joint, const std::vector<std::uint32_t>& triangles); // of the surface
    void failed(const QString& message);
    void told(const QString& message);

protected:
    virtual QStringList namesInLayout() const { return {}; } // of boxes and buttons that stay down
    QJsonObject statesOf(const QStringList& names) const;
    void setStates(const QJsonObject& states); // as a person does it
    /// An action of this page, heard while the keyboard is on it.
    QAction* addAction(ActionBook& book, const char* id, const QString& text, const QKeySequence& key,
                       std::function<void()> does) {
        return book.add(QLatin1String(id), text, key, std::move(does), this);
    }
    /// One that is heard everywhere, and brings the page to the front.
    QAction* addFromAnywhere(ActionBook& book, const char* id, const QString& text,
                             std::function<void()> does);
};

} // namespace hobble
