// Texts that stand in tests/golden: made anew where OFFSHOOT_REWRITE is set, else compared line by line.
#pragma once

#include "support/support.h"

#include <QDir>
#include <QFileInfo>
#include <concepts>

namespace offshoot::test {

/// Lines of a golden text, put together part by part.
class Told
{
public:
    template <class... Parts>
    void line(const Parts&... parts)
    {
        std::string made;
        ((made += (made.empty() ? "" : " | ") + text(parts)), ...);
        m_text += made + '\n';
    }
    const std::string& text() const { return m_text; }

    static std::string text(const std::string& words) { return words.empty() ? "-" : words; }
    static std::string text(const char* words) { return words; }
    static std::string text(std::string_view words) { return text(std::string(words)); }
    static std::string text(bool yes) { return yes ? "yes" : "no"; }
    static std::string text(std::integral auto number) { return std::to_string(number); }
    /// Six digits: what another compiler may round differently is left out.
    static std::string text(double number)
    {
        return QByteArray::number(std::abs(number) < 1e-12 ? 0 : number, 'g', 6).toStdString();
    }
    template <class E>
    requires std::is_enum_v<E>
    static std::string text(E value)
    {
        if constexpr (requires { Words<E>::list; })
            return std::string(word(value));
        else
            return std::to_string(static_cast<int>(value));
    }
    template <class T>
    static std::string text(const std::optional<T>& value)
    {
        return value ? text(*value) : "-";
    }
    static std::string text(const Json& value)
    {
        if (value.is_number_float())
            return text(value.get<double>());
        if (!value.is_structured())
            return value.dump();
        std::string made;
        for (const auto& [key, item] : value.items())
            made += (made.empty() ? "" : ", ") + (value.is_object() ? key + ": " : "") + text(item);
        return (value.is_object() ? "{" : "[") + made + (value.is_object() ? "}" : "]");
    }

private:
    std::string m_text;
};

/// Fails at the first line that differs from tests/golden/`name`.
inline void compareGolden(const QString& name, const std::string& now)
{
    const QString path = QStringLiteral(OFFSHOOT_SOURCE_DIR "/tests/golden/") + name;
    QFile file(path);
    if (qEnvironmentVariableIsSet("OFFSHOOT_REWRITE")) {
        QDir().mkpath(QFileInfo(path).path());
        QVERIFY2(file.open(QIODevice::WriteOnly), qPrintable(path));
        file.write(QByteArray::fromStdString(now));
        return;
    }
    QVERIFY2(file.open(QIODevice::ReadOnly), qPrintable(path));
    const QStringList was = QString::fromUtf8(file.readAll()).split(QLatin1Char('\n'));
    const QStringList is = QString::fromStdString(now).split(QLatin1Char('\n'));
    for (qsizetype i = 0; i < std::max(was.size(), is.size()); ++i)
        QVERIFY2(was.value(i) == is.value(i),
                 qPrintable(QStringLiteral("line %1\nwas: %2\nis:  %3\nmeant? tests/tools/remake")
                                .arg(i + 1)
                                .arg(was.value(i).left(600), is.value(i).left(600))));
}

} // namespace offshoot::test
