// What several tests need: comparing doubles, files of the source tree, the demo job.
#pragma once

#include "core/job/job.h"

#include <QFile>
#include <QTest>
#include <cmath>

namespace offshoot::test {

/// Within `rel` of the expected value, or within `abs` of it near zero. QCOMPARE takes all below 1e-12 as
/// equal.
inline bool near(double actual, double expected, double rel = 1e-9, double abs = 0)
{
    return std::abs(actual - expected) <= abs + rel * std::abs(expected);
}

inline QByteArray numbers(double actual, double expected)
{
    return "got " + QByteArray::number(actual, 'g', 12) + ", expected " +
           QByteArray::number(expected, 'g', 12);
}

inline std::string sourceFile(const char* path)
{
    QFile file(QStringLiteral(OFFSHOOT_SOURCE_DIR "/") + QString::fromUtf8(path));
    if (!file.open(QIODevice::ReadOnly))
        qFatal("cannot read %s", path);
    return file.readAll().toStdString();
}

inline Job demoJob() { return readJob(sourceFile("data/jobs/beacon-float-charge.offshoot")); }

} // namespace offshoot::test

#define QNEAR(actual, expected, ...)                                                                         \
    QVERIFY2(offshoot::test::near(actual, expected __VA_OPT__(, ) __VA_ARGS__),                              \
             offshoot::test::numbers(actual, expected).constData())
