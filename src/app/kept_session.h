#pragma once
// Where one was, for the next start: the window's size, how its pages are laid out, and for each character
// the page and the place on it. Written every few seconds while it changes, so that a window that is killed
// is found again where it was; the work itself (plans, trials, the log) is kept by the desks as it is done.
//
// Each window has a file of its own beside a lock that ends with it: several may be open, on one log. What an
// ended one knew goes to the file they share.
#include "app/main_window.h"

#include <QLockFile>
#include <QThreadPool>

namespace hobble {

class KeptSession : public QObject {
    Q_OBJECT
public:
    /// Lays the window out as it was. `folder`: where it is kept.
    KeptSession(MainWindow* window, Session* session, const QString& folder);
    ~KeptSession() override;

    /// What was open in a window that did not end as it should: killed, or with the machine.
    struct Killed {
        QString log, character; // either may be empty
    };
    const std::optional<Killed>& killed() const { return killed_; }

    /// Where it is written while the window is open.
    QString path() const { return path_; }
    static QString usualFolder();

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    void readKept();
    void keep();
    QJsonObject now() const;
    void characterCameIn();
    void goBack();
    QJsonObject placeOf(const Page* page) const;

    MainWindow* window_;
    Session* session_;
    QString folder_, path_;
    std::unique_ptr<QLockFile> lock_;
    std::optional<Killed> killed_;
    QJsonObject layout_, places_; // by page; by a character's path
    QJsonObject toGoBackTo_;      // of the character open; empty as soon as a hand is on the window
    QSet<Page*> seen_;            // since the start
    bool first_ = true;           // no character was open since the start
    QString character_;           // open now
    QByteArray written_;
    QThreadPool writer_;
};

} // namespace hobble
