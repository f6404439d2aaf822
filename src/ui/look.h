// Colours, type and metrics, in one place; two looks. Widgets hold a reference and repaint when it changes.
#pragma once

#include "core/evaluate/evaluation.h"

#include <QColor>
#include <QFont>
#include <QObject>
#include <QString>
#include <map>
#include <utility>

class QApplication;

namespace offshoot::ui {

/// Every colour has one meaning; see docs/ARCHITECTURE.md for the roles.
struct Colours
{
    QColor paper;
    QColor sheet;
    QColor ink;
    QColor softInk;
    QColor hairline;
    QColor bar;
    QColor barText;
    QColor found;
    QColor planned;
    QColor measured;
    QColor ribbon;
    QColor loss;
    QColor selection;
    QColor fits;
    QColor tight;
    QColor breaks;
    QColor unknown;
    QColor rehearsal;     ///< ground of what is not real
    QColor rehearsalText; ///< on it

    QColor verdict(Verdict verdict) const;
};

const Colours& lightColours();
const Colours& darkColours();

/// What somebody chooses of a look.
struct LookSetting
{
    bool dark = false;
    bool bandDigits = false; ///< the colour's digit beside each band of a resistor
    int percent = 100;       ///< scales all of it, held to 80 to 160 %

    bool operator==(const LookSetting&) const = default;
};

class Look : public QObject
{
    Q_OBJECT

public:
    explicit Look(LookSetting setting = {}, QObject* parent = nullptr);

    const LookSetting& setting() const { return m_setting; }
    void set(LookSetting setting);
    bool dark() const { return m_setting.dark; }
    void setDark(bool dark);
    bool bandDigits() const { return m_setting.bandDigits; }
    void setBandDigits(bool shown);
    int percent() const { return m_setting.percent; }
    void setPercent(int percent);

    const Colours& colours() const { return dark() ? darkColours() : lightColours(); }
    /// Marks on the header and log line use the dark column in both looks.
    const Colours& barColours() const { return darkColours(); }

    /// `length` pixels at 100 %.
    int px(double length) const;
    QFont font(double pixels, bool bold = false) const;
    QFont text() const { return font(14); }
    QFont textBold() const { return font(14, true); }
    QFont number() const { return font(17, true); }
    QFont caption() const { return font(12); }
    QFont title() const { return font(18, true); }

    QString styleSheet() const;

Q_SIGNALS:
    void changed();

private:
    LookSetting m_setting;
    /// By pixel size and weight: a font made anew is matched anew, hundreds of times a repaint.
    mutable std::map<std::pair<int, bool>, QFont> m_fonts;
};

/// Runs `size`, which sets sizes in pixels of `look`, now and whenever that changes.
template <typename Size>
void sizedWith(QObject& widget, const Look& look, Size size)
{
    size();
    QObject::connect(&look, &Look::changed, &widget, size);
}

/// Loads the fonts shipped in the application; once, before the first widget.
void loadFonts();

inline QString qs(const std::string& text) { return QString::fromStdString(text); }
inline QString qs(std::string_view text)
{
    return QString::fromUtf8(text.data(), static_cast<qsizetype>(text.size()));
}

} // namespace offshoot::ui
