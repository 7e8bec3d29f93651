// On a screen of 3840 × 2160 at scale 2 (QT_SCALE_FACTOR, set where the test is entered): the window is
// whole, pictures have every pixel of the screen, and what is pressed is what lies under the pointer.
#include "support/clipped.h"
#include "support/window_test.h"

#include <QImage>
#include <QScreen>

using namespace hobble;
using namespace hobble::test;

class TestAtScaleTwo : public QObject {
    Q_OBJECT

    std::unique_ptr<TestWindow> w_;
    Viewport* viewport() const {
        for (Viewport* v : w_->window->findChildren<Viewport*>())
            if (v->isVisible())
                return v;
        return nullptr;
    }

private slots:
    void initTestCase() {
        if (qgetenv("QT_SCALE_FACTOR") != "2")
            QSKIP("a test of its own screen: run by the runner as test_at_scale_two");
        w_ = std::make_unique<TestWindow>(QStringLiteral("scale"), true);
        QVERIFY(w_->openAndRun(QStringLiteral(HOBBLE_DEMO_DIR "/builds/3/badger-postmaster.glb")));
    }
    void cleanupTestCase() { w_.reset(); }

    void everyPageIsWhole() {
        QCOMPARE(w_->window->devicePixelRatio(), 2.0);
        QCOMPARE(w_->window->screen()->size(), QSize(1920, 1080));
        for (const char* page : {"intake", "plan", "review", "mend", "compare", "log"}) {
            QAction* go = w_->window->actionBook()->find(QLatin1String(page));
            QVERIFY(go);
            go->trigger();
            QVERIFY2(isWhole(*w_->window, QLatin1String(page)), "see above");
            const QImage seen = w_->window->grab().toImage();
            QCOMPARE(seen.size(), 2 * w_->window->size());
            if (const QByteArray to = qgetenv("HOBBLE_TESTS_LOOK"); !to.isEmpty())
                seen.save(QString::fromLocal8Bit(to) +
                          QStringLiteral("/scale-two-%1.png").arg(QLatin1String(page)));
        }
    }

    // Edges of the character in the picture lie where picking says that there is skin and beside it none.
    void picturesAreSharpAndPressedWhereTheyAreSeen() {
        w_->window->actionBook()->find(QStringLiteral("intake"))->trigger();
        comeToRest();
        Viewport* v = viewport();
        QVERIFY(v);
        v->frameAll(false);
        QImage seen;
        QTRY_VERIFY(!(seen = QImage::fromData(v->picture())).isNull());
        QCOMPARE(seen.size(), 2 * v->size());
        int within = 0, agree = 0;
        const QColor ground = seen.pixelColor(seen.width() / 2, 3);
        const auto isGround = [&](const QPointF& at) {
            const QColor c = seen.pixelColor((2 * at).toPoint());
            return std::abs(c.red() - ground.red()) + std::abs(c.green() - ground.green()) +
                       std::abs(c.blue() - ground.blue()) <
                   40;
        };
        for (int y = v->height() / 5; y < v->height() * 4 / 5; y += 7)
            for (int x = v->width() / 4; x < v->width() * 3 / 4; x += 7) {
                const bool skin = v->pick(QPointF(x + 0.25, y + 0.25)).has_value();
                within += skin;
                agree += skin == !isGround(QPointF(x, y));
            }
        QVERIFY(within > 100);
        const int asked = ((v->height() * 4 / 5 - v->height() / 5 + 6) / 7) *
                          ((v->width() * 3 / 4 - v->width() / 4 + 6) / 7);
        QVERIFY2(agree > 0.93 * asked,
                 qPrintable(QStringLiteral("%1 of %2").arg(agree).arg(asked))); // edges are blended
        QPointF at;
        for (int y = v->height() / 2; y < v->height() && at.isNull(); y += 3)
            if (v->pick(QPointF(v->width() / 2.0, y)))
                at = QPointF(v->width() / 2.0, y);
        const auto hit = v->pick(at);
        QVERIFY(hit);
        QVERIFY(QLineF(v->project(hit->point), at).length() < 1);
        const auto sight = v->sight();
        QVERIFY(sight && sight->of(hit->point.cast<float>()));
    }
};

HOBBLE_TEST(TestAtScaleTwo)
#include "test_at_scale_two.moc"
