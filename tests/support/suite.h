#pragma once
// The tests of one folder are one program, run file by file: each file enters its class here, and the first
// argument names the file to run. So what all of them include is compiled and linked once.
#include <QTest>

#include <functional>

namespace hobble::test {

using Run = std::function<int(int argc, char** argv)>;

struct Entered {
    Entered(const char* file, Run run);
};

/// Runs the file named by the first argument; without one, all of them. The application object exists.
int runEntered(int argc, char** argv);

} // namespace hobble::test

// What is waited for is waited for longer than Qt does by itself: a slow machine is no fault.
#undef QTRY_VERIFY
#define QTRY_VERIFY(expr) QTRY_VERIFY_WITH_TIMEOUT(expr, 60000)
#undef QTRY_COMPARE
#define QTRY_COMPARE(actual, expected) QTRY_COMPARE_WITH_TIMEOUT(actual, expected, 60000)

#define HOBBLE_TEST(Class)                                                                                   \
    static const hobble::test::Entered entered##Class(__FILE__, [](int argc, char** argv) {                  \
        Class tests;                                                                                         \
        return QTest::qExec(&tests, argc, argv);                                                             \
    });
