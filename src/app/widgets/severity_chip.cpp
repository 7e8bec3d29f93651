#include "app/widgets/severity_chip.h"

#include "app/theme.h"

namespace hobble {

void paintSeverity(QPainter& p, const QRectF& box, int severity) {
    if (severity < 1)
        return;
    const Theme& t = Theme::current();
    const QColor colour = severity >= 4 ? t.blocking : t.ink;
    p.save();
    p.setRenderHint(QPainter::Antialiasing, true);
    p.setPen(QPen(colour, 2, Qt::SolidLine, Qt::SquareCap));
    const QRectF b = box.adjusted(2, 2, -2, -2);
    p.drawLine(b.bottomLeft(), b.bottomRight());
    if (severity >= 2)
        p.drawLine(b.bottomRight(), b.topRight());
    if (severity >= 3)
        p.drawLine(b.topRight(), b.topLeft());
    if (severity >= 4)
        p.drawLine(b.topLeft(), b.bottomLeft());
    p.setPen(colour);
    p.setFont(typeface(0.95, true));
    p.drawText(b, Qt::AlignCenter, QString::number(severity));
    p.restore();
}

QString severityWord(int severity) {
    switch (severity) {
    case 1:
        return QObject::tr("minor");
    case 2:
        return QObject::tr("notable");
    case 3:
        return QObject::tr("serious");
    case 4:
        return QObject::tr("blocking");
    default:
        return QObject::tr("within limits");
    }
}

SeverityChip::SeverityChip(int severity, QWidget* parent) : QWidget(parent) {
    setTextSize(this, 22, 22);
    setSeverity(severity);
}

void SeverityChip::setSeverity(int severity) {
    severity_ = severity;
    setAccessibleName(tr("severity %1, %2").arg(severity).arg(severityWord(severity)));
    setToolTip(severity ? accessibleName() : QString());
    update();
}

void SeverityChip::paintEvent(QPaintEvent*) {
    QPainter p(this);
    paintSeverity(p, rect(), severity_);
}

} // namespace hobble
