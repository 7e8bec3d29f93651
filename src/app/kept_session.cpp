#include "app/kept_session.h"

#include <QApplication>
#include <QDateTime>
#include <QDir>
#include <QFile>
#include <QFileInfo>
#include <QJsonArray>
#include <QJsonDocument>
#include <QSaveFile>
#include <QStandardPaths>
#include <QTimer>

namespace hobble {

namespace {
const QString kLog = QStringLiteral("log"), kCharacter = QStringLiteral("character"),
              kPage = QStringLiteral("page"), kWindow = QStringLiteral("window"),
              kLayout = QStringLiteral("layout"), kPlaces = QStringLiteral("places"),
              kPages = QStringLiteral("pages"), kCameras = QStringLiteral("cameras"),
              kLast = QStringLiteral("last.json");
constexpr int kEvery = 2000;                  // ms: what is lost at most
constexpr int kCharacters = 24;               // that are remembered
const QString kSeen = QStringLiteral("seen"); // when, seconds: the oldest is forgotten

QJsonObject readObject(const QString& path) {
    QFile file(path);
    return file.open(QIODevice::ReadOnly) ? QJsonDocument::fromJson(file.readAll()).object() : QJsonObject();
}
} // namespace

QString KeptSession::usualFolder() {
    return QStandardPaths::writableLocation(QStandardPaths::AppDataLocation) + QStringLiteral("/sessions");
}

KeptSession::KeptSession(MainWindow* window, Session* session, const QString& folder)
    : window_(window), session_(session), folder_(folder) {
    writer_.setMaxThreadCount(1); // the last that was asked for is the last that is written
    readKept();
    path_ = QDir(folder_).filePath(QStringLiteral("%1-%2.json")
                                       .arg(QCoreApplication::applicationPid())
                                       .arg(QDateTime::currentMSecsSinceEpoch()));
    lock_ = std::make_unique<QLockFile>(path_ + QStringLiteral(".lock"));
    lock_->setStaleLockTime(0); // it lives as long as this window
    lock_->tryLock();

    for (Page* page : window_->pages())
        page->layOutAs(layout_.value(page->id()).toObject());
    seen_.insert(window_->shownPage());
    auto* every = new QTimer(this);
    connect(every, &QTimer::timeout, this, &KeptSession::keep);
    every->start(kEvery);
    connect(&session_->build(), &BuildDesk::characterSettled, this, [this](BuildDesk::Change change) {
        if (change == BuildDesk::Change::Opened)
            characterCameIn();
    });
    connect(&session_->run(), &RunDesk::runChanged, this, [this] {
        if (session_->run().run())
            goBack();
    });
    qApp->installEventFilter(this);
}

KeptSession::~KeptSession() {
    keep();
    writer_.waitForDone();
    QFile::remove(QDir(folder_).filePath(kLast));
    QFile::rename(path_, QDir(folder_).filePath(kLast));
}

// What ended windows left: the last that ended as it should; and newer than that, whose process is gone.
void KeptSession::readKept() {
    QDir folder(folder_);
    folder.mkpath(QStringLiteral("."));
    const auto take = [this](const QJsonObject& o) {
        layout_ = o.value(kLayout).toObject();
        places_ = o.value(kPlaces).toObject();
        if (o.contains(kWindow))
            window_->restoreGeometry(QByteArray::fromBase64(o.value(kWindow).toString().toLatin1()));
    };
    take(readObject(folder.filePath(kLast)));
    const QStringList left =
        folder.entryList({QStringLiteral("*-*.json")}, QDir::Files, QDir::Time | QDir::Reversed);
    for (const QString& name : left) { // the newest is taken last
        QLockFile lock(folder.filePath(name) + QStringLiteral(".lock"));
        lock.setStaleLockTime(0);
        if (!lock.tryLock())
            continue; // a window that is open
        const QJsonObject o = readObject(folder.filePath(name));
        folder.remove(name); // first: what it opens may be what ended it
        if (o.isEmpty())
            continue;
        take(o);
        killed_ = Killed{o.value(kLog).toString(), o.value(kCharacter).toString()};
    }
}

QJsonObject KeptSession::placeOf(const Page* page) const {
    QJsonObject place = page->placeToKeep();
    QJsonArray cameras;
    for (const Viewport* view : page->findChildren<Viewport*>())
        cameras.append(QString::fromLatin1(view->cameraToBe().toJson()));
    place.insert(kCameras, cameras);
    return place;
}

QJsonObject KeptSession::now() const {
    QJsonObject layout = layout_, pages;
    for (Page* page : window_->pages()) {
        if (seen_.contains(page)) // till then it has not been laid out
            layout.insert(page->id(), page->layoutToKeep());
        pages.insert(page->id(), placeOf(page));
    }
    QJsonObject places = places_;
    if (!character_.isEmpty() && toGoBackTo_.isEmpty()) {
        places.insert(character_, QJsonObject{{kPage, window_->shownPage()->id()},
                                              {kPages, pages},
                                              {kSeen, places.value(character_).toObject().value(kSeen)}});
    }
    return {{kLog, session_->log().place()},
            {kCharacter, character_},
            {kWindow, QString::fromLatin1(window_->saveGeometry().toBase64())},
            {kLayout, layout},
            {kPlaces, places}};
}

void KeptSession::keep() {
    const QJsonObject o = now();
    layout_ = o.value(kLayout).toObject();
    places_ = o.value(kPlaces).toObject();
    const QByteArray bytes = QJsonDocument(o).toJson(QJsonDocument::Compact);
    if (bytes == written_)
        return;
    written_ = bytes;
    writer_.start([path = path_, bytes] { // a folder may be far away
        QSaveFile file(path);
        if (file.open(QIODevice::WriteOnly) && file.write(bytes) == bytes.size())
            file.commit();
    });
}

void KeptSession::characterCameIn() {
    character_ = QFileInfo(QString::fromStdString(session_->build().build()->source)).absoluteFilePath();
    QJsonObject place = places_.value(character_).toObject();
    const bool known = !place.isEmpty();
    place.insert(kSeen, QDateTime::currentSecsSinceEpoch());
    places_.insert(character_, place);
    while (places_.size() > kCharacters) {
        auto oldest = places_.begin();
        for (auto it = places_.begin(); it != places_.end(); ++it)
            if (it->toObject().value(kSeen).toInteger() < oldest->toObject().value(kSeen).toInteger())
                oldest = it;
        places_.erase(oldest);
    }
    toGoBackTo_ = known ? place : QJsonObject();
    const bool first = std::exchange(first_, false);
    if (!known)
        return;
    goBack();
    if (first && killed_ && killed_->character == character_)
        window_->tell(tr("Hobble had not ended as it should. This is what was open."));
    if (first) // later a person is somewhere already
        for (Page* page : window_->pages())
            if (page->id() == place.value(kPage).toString())
                window_->showPage(page);
}

// Once the character is there, and once more when it has been run: till then there is no finding to choose.
void KeptSession::goBack() {
    if (toGoBackTo_.isEmpty())
        return;
    const QJsonObject pages = toGoBackTo_.value(kPages).toObject();
    for (Page* page : window_->pages()) {
        const QJsonObject place = pages.value(page->id()).toObject();
        page->goBackTo(place);
        const QJsonArray cameras = place.value(kCameras).toArray();
        const QList<Viewport*> views = page->findChildren<Viewport*>();
        for (int i = 0; i < views.size() && i < cameras.size(); ++i)
            views[i]->setCamera(Camera::fromJson(cameras[i].toString().toLatin1(), views[i]->camera()),
                                false);
    }
    if (session_->run().run())
        toGoBackTo_ = {};
}

bool KeptSession::eventFilter(QObject* watched, QEvent* event) {
    // A hand is on the window: it stays where that has put it.
    if (event->spontaneous() &&
        (event->type() == QEvent::MouseButtonPress || event->type() == QEvent::KeyPress))
        toGoBackTo_ = {};
    if (event->type() == QEvent::Show)
        if (auto* page = qobject_cast<Page*>(watched))
            seen_.insert(page);
    return QObject::eventFilter(watched, event);
}

} // namespace hobble
