// For tests in a real window.
#include "support/suite.h"

#include <QApplication>

#include "app/view/viewport.h"

int main(int argc, char** argv) {
    hobble::Viewport::requestOpenGl();
    QCoreApplication::setAttribute(Qt::AA_Use96Dpi);
    const QApplication app(argc, argv);
    return hobble::test::runEntered(argc, argv);
}
