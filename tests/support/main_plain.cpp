// For tests without a window.
#include "support/suite.h"

int main(int argc, char** argv) {
    const QCoreApplication app(argc, argv);
    return hobble::test::runEntered(argc, argv);
}
