// What several tests need: comparing doubles, files of the source tree, places in documents, the
// demo job.
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

/// Every place in a document, as JSON pointers; the root first.
inline std::vector<Json::json_pointer> places(const Json& value,
                                              const Json::json_pointer& at = Json::json_pointer())
{
    std::vector<Json::json_pointer> all{at};
    const auto add = [&all](const std::vector<Json::json_pointer>& more) {
        all.insert(all.end(), more.begin(), more.end());
    };
    if (value.is_object())
        for (const auto& [key, item] : value.items())
            add(places(item, at / key));
    if (value.is_array())
        for (std::size_t i = 0; i < value.size(); ++i)
            add(places(value[i], at / i));
    return all;
}
/// The name of a place: its pointer without which one of a list it is.
inline std::string nameOf(const Json::json_pointer& at)
{
    std::string name;
    for (const QString& token :
         QString::fromStdString(at.to_string()).split(QLatin1Char('/'), Qt::SkipEmptyParts))
        name += '/' + (token.front().isDigit() ? "*" : token.toStdString());
    return name;
}
/// How many they are.
inline std::size_t placeCount(const Json& value)
{
    std::size_t count = 1;
    if (value.is_structured())
        for (const Json& item : value)
            count += placeCount(item);
    return count;
}
/// The one at `number` in that order, without a list of the others.
inline Json::json_pointer placeAt(const Json& value, std::size_t number)
{
    if (number == 0)
        return Json::json_pointer();
    --number;
    std::size_t index = 0;
    for (auto item = value.begin(); item != value.end(); ++item, ++index) {
        const std::size_t count = placeCount(*item);
        if (number < count) {
            const Json::json_pointer own;
            return (value.is_object() ? own / item.key() : own / index) / placeAt(*item, number);
        }
        number -= count;
    }
    return Json::json_pointer();
}

inline Job demoJob() { return readJob(sourceFile("data/jobs/beacon-float-charge.offshoot")); }

} // namespace offshoot::test

#define QNEAR(actual, expected, ...)                                                                         \
    QVERIFY2(offshoot::test::near(actual, expected __VA_OPT__(, ) __VA_ARGS__),                              \
             offshoot::test::numbers(actual, expected).constData())
