// Colours and type: every pair that carries text or a mark has a contrast of 4.5:1, in both looks.
#include "support/support.h"
#include "ui/look.h"

using namespace offshoot;
using namespace offshoot::ui;
using namespace Qt::StringLiterals;

namespace {

/// WCAG contrast ratio of two opaque colours, 1 to 21.
double contrast(const QColor& a, const QColor& b)
{
    const auto luminance = [](const QColor& c) {
        const auto linear = [](double part) {
            return part <= 0.04045 ? part / 12.92 : std::pow((part + 0.055) / 1.055, 2.4);
        };
        return 0.2126 * linear(double(c.redF())) + 0.7152 * linear(double(c.greenF())) +
               0.0722 * linear(double(c.blueF()));
    };
    const double high = std::max(luminance(a), luminance(b));
    const double low = std::min(luminance(a), luminance(b));
    return (high + 0.05) / (low + 0.05);
}

} // namespace

class TestLook : public QObject
{
    Q_OBJECT

private Q_SLOTS:
    void contrasts_data()
    {
        QTest::addColumn<QColor>("text");
        QTest::addColumn<QColor>("ground");
        for (const bool dark : {false, true}) {
            const Colours& c = dark ? darkColours() : lightColours();
            const std::pair<const char*, QColor> texts[] = {
                {"ink", c.ink},         {"soft ink", c.softInk},  {"found", c.found},
                {"planned", c.planned}, {"measured", c.measured}, {"fits", c.fits},
                {"tight", c.tight},     {"breaks", c.breaks},     {"unknown", c.unknown}};
            const std::pair<const char*, QColor> grounds[] = {
                {"paper", c.paper}, {"sheet", c.sheet}, {"selection", c.selection}};
            for (const auto& [text, ink] : texts)
                for (const auto& [ground, colour] : grounds)
                    QTest::addRow("%s: %s on %s", dark ? "dark" : "light", text, ground) << ink << colour;
            // What stands on the ribbon: names, found and planned figures.
            for (const auto& [text, ink] : {texts[0], texts[2], texts[3]})
                QTest::addRow("%s: %s on the ribbon", dark ? "dark" : "light", text) << ink << c.ribbon;
            // Header and log line use the dark column in both looks.
            const Colours& bar = darkColours();
            for (const auto& [text, ink] : {std::pair{"text", bar.barText},
                                            {"soft ink", bar.softInk},
                                            {"tight", bar.tight},
                                            {"breaks", bar.breaks},
                                            {"fits", bar.fits},
                                            {"unknown", bar.unknown},
                                            {"found", bar.found},
                                            {"measured", bar.measured}})
                QTest::addRow("%s: %s on the bar", dark ? "dark" : "light", text) << ink << c.bar;
        }
        const Colours& plate = lightColours();
        for (const auto& [text, colour] :
             {std::pair{"live", plate.breaks}, {"unproven", plate.tight}, {"dead", plate.fits}})
            QTest::addRow("plate: %s", text) << plate.paper << colour;
    }
    void contrasts()
    {
        QFETCH(QColor, text);
        QFETCH(QColor, ground);
        QVERIFY2(contrast(text, ground) >= 4.5, qPrintable(QString::number(contrast(text, ground))));
    }

    void contrastItself()
    {
        QNEAR(contrast(Qt::black, Qt::white), 21, 1e-6);
        QNEAR(contrast(Qt::white, Qt::white), 1, 1e-9);
    }

    void scales()
    {
        Look look;
        look.setPercent(300);
        QCOMPARE(look.percent(), 160);
        QCOMPARE(look.px(10), 16);
        look.setPercent(10);
        QCOMPARE(look.percent(), 80);
        look.setPercent(100);
        QVERIFY(look.text().pixelSize() >= 14 && look.caption().pixelSize() >= 12 &&
                look.number().pixelSize() >= 17 && look.title().pixelSize() >= 18);
    }

    /// A kept font is the one asked for, also after the scale changed.
    void fontsAreKept()
    {
        Look look;
        for (int percent : {100, 120, 80, 100}) {
            look.setPercent(percent);
            QCOMPARE(look.font(14).pixelSize(), look.px(14));
            QVERIFY(look.font(14, true).bold() && !look.font(14).bold());
            QCOMPARE(look.font(17), look.font(17));
        }
    }

    void fonts()
    {
        loadFonts();
        Look look;
        QCOMPARE(QFontInfo(look.text()).family(), u"Offshoot B612"_s);
        // Figures of one width.
        const QFontMetricsF metrics(look.number());
        for (char16_t digit = u'0'; digit <= u'9'; ++digit)
            QCOMPARE(metrics.horizontalAdvance(QChar(digit)), metrics.horizontalAdvance(u'0'));
    }
};

REGISTER_TEST(TestLook, QApplication)
#include "tst_look.moc"
