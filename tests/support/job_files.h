// The demo jobs and the jobs of tests/jobs, and the worked cases, as rows of a test.
#pragma once

#include <QDir>
#include <QTest>

namespace offshoot::test {

/// Their paths below the source tree.
inline QStringList jobFiles()
{
    QStringList files;
    for (const char* folder : {"data/jobs", "tests/jobs"})
        for (const QString& name : QDir(QStringLiteral(OFFSHOOT_SOURCE_DIR "/") + QLatin1StringView(folder))
                                       .entryList({QStringLiteral("*.offshoot")}))
            files << QLatin1StringView(folder) + QLatin1Char('/') + name;
    return files;
}
/// One row for each, with its path in the column "file".
inline void everyJobFile()
{
    QTest::addColumn<QString>("file");
    for (const QString& file : jobFiles())
        QTest::addRow("%s", qPrintable(file.section(QLatin1Char('/'), -1))) << file;
}

/// One row for each file of tests/cases, with its name in the column "file".
inline void everyCaseFile()
{
    QTest::addColumn<QByteArray>("file");
    for (const QString& name :
         QDir(QStringLiteral(OFFSHOOT_SOURCE_DIR "/tests/cases")).entryList({QStringLiteral("*.json")}))
        QTest::addRow("%s", qPrintable(name)) << name.toUtf8();
}

} // namespace offshoot::test
