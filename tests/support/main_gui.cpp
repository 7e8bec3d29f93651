// For tests that draw pictures and write pages, without a window.
#include "support/suite.h"

#include <QGuiApplication>

int main(int argc, char** argv) {
    const QGuiApplication app(argc, argv);
    return hobble::test::runEntered(argc, argv);
}
