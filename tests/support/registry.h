// The tests of a folder are one program: each registers itself here, and its name says which is run.
#pragma once

#include <QTest>
#include <type_traits>
#include <vector>

namespace offshoot::test {

struct Registered
{
    const char* file;
    int (*run)(int argc, char** argv);
};
inline std::vector<Registered>& registered()
{
    static std::vector<Registered> all;
    return all;
}

/// Runs as QTEST_MAIN and its kin do; `App` is the application it needs, or void.
template <class Test, class App>
int runTest(int argc, char** argv)
{
    Test test;
    if constexpr (std::is_void_v<App>) {
        return QTest::qExec(&test, argc, argv);
    } else {
        App app(argc, argv);
        QCoreApplication::setAttribute(Qt::AA_Use96Dpi, true);
        return QTest::qExec(&test, argc, argv);
    }
}

template <class Test, class App>
bool registerTest(const char* file)
{
    registered().push_back({file, runTest<Test, App>});
    return true;
}

} // namespace offshoot::test

/// At the end of a test's file.
#define REGISTER_TEST(Test, App)                                                                             \
    [[maybe_unused]] static const bool Test##Registered = offshoot::test::registerTest<Test, App>(__FILE__);
