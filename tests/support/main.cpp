// core_tests tst_values [Qt Test's own arguments]: runs one of the folder's tests.
#include "support/registry.h"

#include <QFileInfo>
#include <cstdio>

int main(int argc, char** argv)
{
    const QString wanted = argc > 1 ? QString::fromLocal8Bit(argv[1]) : QString();
    for (const auto& test : offshoot::test::registered())
        if (QFileInfo(QString::fromUtf8(test.file)).baseName() == wanted)
            return test.run(argc - 1, argv + 1);
    std::fprintf(stderr, "Which test? There are:\n");
    for (const auto& test : offshoot::test::registered())
        std::fprintf(stderr, "  %s\n", qPrintable(QFileInfo(QString::fromUtf8(test.file)).baseName()));
    return 2;
}
