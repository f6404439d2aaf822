#include "ui/look.h"

#include <QFontDatabase>
#include <algorithm>
#include <cmath>

namespace offshoot::ui {

using namespace Qt::StringLiterals;

QColor Colours::verdict(Verdict verdict) const
{
    switch (verdict) {
    case Verdict::Fits:
        return fits;
    case Verdict::Tight:
        return tight;
    case Verdict::Breaks:
        return breaks;
    case Verdict::Unknown:
        return unknown;
    }
    return unknown;
}

const Colours& lightColours()
{
    static const Colours colours{.paper = 0xF5F2E9,
                                 .sheet = 0xFCFBF6,
                                 .ink = 0x1D2930,
                                 .softInk = 0x5A6972,
                                 .hairline = 0xD5CFBF,
                                 .bar = 0x1D2930,
                                 .barText = 0xF5F2E9,
                                 .found = 0x4A5B65,
                                 .planned = 0x075A57,
                                 .measured = 0x6B3FA0,
                                 .ribbon = 0xC9DAD6,
                                 .loss = 0x9CC2BC,
                                 .selection = 0xE3EEEA,
                                 .fits = 0x27692F,
                                 .tight = 0x8F5200,
                                 .breaks = 0xB4261B,
                                 .unknown = 0x5A6972,
                                 .rehearsal = 0x3D2A52,
                                 .rehearsalText = 0xF5F2E9};
    return colours;
}

const Colours& darkColours()
{
    static const Colours colours{.paper = 0x171E22,
                                 .sheet = 0x1E272C,
                                 .ink = 0xE9E6DC,
                                 .softInk = 0x9AA7AC,
                                 .hairline = 0x34414A,
                                 .bar = 0x0E1417,
                                 .barText = 0xE9E6DC,
                                 .found = 0xA3B3BC,
                                 .planned = 0x5CCBC1,
                                 .measured = 0xB79AE6,
                                 .ribbon = 0x26403E,
                                 .loss = 0x3A625D,
                                 .selection = 0x20363A,
                                 .fits = 0x6CC17A,
                                 .tight = 0xE7A33E,
                                 .breaks = 0xF0776C,
                                 .unknown = 0x9AA7AC,
                                 .rehearsal = 0x37264A,
                                 .rehearsalText = 0xE9E6DC};
    return colours;
}

namespace {

LookSetting held(LookSetting setting)
{
    setting.percent = std::clamp(setting.percent, 80, 160);
    return setting;
}

} // namespace

Look::Look(LookSetting setting, QObject* parent)
    : QObject(parent)
    , m_setting(held(setting))
{}

void Look::set(LookSetting setting)
{
    setting = held(setting);
    if (m_setting == setting)
        return;
    m_setting = setting;
    Q_EMIT changed();
}

void Look::setDark(bool dark)
{
    LookSetting next = m_setting;
    next.dark = dark;
    set(next);
}

void Look::setBandDigits(bool shown)
{
    LookSetting next = m_setting;
    next.bandDigits = shown;
    set(next);
}

void Look::setPercent(int percent)
{
    LookSetting next = m_setting;
    next.percent = percent;
    set(next);
}

int Look::px(double length) const { return static_cast<int>(std::lround(length * percent() / 100)); }

QFont Look::font(double pixels, bool bold) const
{
    const auto [known, is_new] = m_fonts.try_emplace({px(pixels), bold}, u"Offshoot B612"_s);
    if (is_new) {
        known->second.setPixelSize(px(pixels));
        known->second.setBold(bold);
    }
    return known->second;
}

QString Look::styleSheet() const
{
    const Colours& c = colours();
    const auto rules = uR"(
QMainWindow, QDialog { background: %PAPER; }
QDialog QWidget { color: %INK; font-family: "Offshoot B612"; font-size: %TEXTpx; }
QToolTip { background: %BAR; color: %BARTEXT; border: 0; padding: 4px; }
QLineEdit, QComboBox, QSpinBox, QPlainTextEdit, QTextBrowser { background: %SHEET; color: %INK; border: 1px solid %HAIR; border-radius: 4px; padding: 3px 8px; selection-background-color: %PLANNED; selection-color: %SHEET; }
QLineEdit:focus, QComboBox:focus, QPlainTextEdit:focus { border: 2px solid %PLANNED; padding: 2px 7px; }
QLineEdit[wrong="true"] { border: 2px solid %BREAKS; padding: 2px 7px; }
QComboBox QAbstractItemView { background: %SHEET; color: %INK; selection-background-color: %SELECT; selection-color: %INK; border: 1px solid %HAIR; }
QComboBox { combobox-popup: 0; }
QDialog QListWidget::item:selected { background: %SELECT; color: %INK; }
QComboBox::drop-down { border: 0; width: 20px; }
QPushButton { background: transparent; color: %PLANNED; border: 1px solid %PLANNED; border-radius: 4px; padding: 5px 14px; }
QPushButton:hover { background: %SELECT; }
QPushButton:focus { border: 2px solid %PLANNED; padding: 4px 13px; }
QPushButton:checked, QPushButton[main="true"] { background: %PLANNED; color: %SHEET; }
QPushButton:disabled { color: %SOFT; border-color: %HAIR; background: transparent; }
QPushButton[role="group"] { border: 0; border-bottom: 2px solid transparent; border-radius: 0; padding: 2px 6px; color: %SOFT; }
QPushButton[role="group"]:checked { background: transparent; color: %PLANNED; border-bottom: 2px solid %PLANNED; }
QPushButton[role="group"]:focus { border: 0; border-bottom: 3px solid %PLANNED; padding: 2px 6px 1px 6px; }
QCheckBox { spacing: 8px; }
QCheckBox::indicator { width: 16px; height: 16px; border: 1px solid %SOFT; border-radius: 3px; background: %SHEET; }
QCheckBox::indicator:checked { background: %PLANNED; border-color: %PLANNED; }
QCheckBox:focus { color: %PLANNED; }
QCheckBox::indicator:focus { border: 2px solid %PLANNED; }
QScrollArea, QScrollArea > QWidget > QWidget { background: transparent; border: 0; }
QListView, QTreeView, QTableView { background: transparent; border: 0; outline: 0; }
QScrollBar:vertical { background: transparent; width: 10px; } QScrollBar::handle:vertical { background: %HAIR; border-radius: 4px; min-height: 24px; }
QScrollBar:horizontal { background: transparent; height: 10px; } QScrollBar::handle:horizontal { background: %HAIR; border-radius: 4px; min-width: 24px; }
QScrollBar::add-line, QScrollBar::sub-line, QScrollBar::add-page, QScrollBar::sub-page { background: transparent; width: 0; height: 0; }
QHeaderView { background: %SHEET; } QHeaderView::section { background: %SHEET; color: %SOFT; border: 0; border-bottom: 1px solid %HAIR; padding: 4px; }
QMenu { background: %SHEET; color: %INK; border: 1px solid %HAIR; } QMenu::item:selected { background: %SELECT; }
QLabel[role="caption"] { color: %SOFT; font-size: %CAPpx; }
QLabel[role="title"] { font-size: %TITLEpx; font-weight: bold; }
QLabel[role="problem"] { color: %BREAKS; font-size: %CAPpx; }
#workspace { background: %SHEET; }
QWidget#firstNote { background: %SELECT; border-top: 1px solid %HAIR; }
QLabel#message { background: %SELECT; color: %INK; padding: 6px 20px; border-top: 1px solid %HAIR; }
QFrame[role="line"] { background: %HAIR; max-height: 1px; border: 0; }
)"_s;
    QString sheet = rules;
    const std::pair<const char*, QString> marks[] = {{"%INK", c.ink.name()},
                                                     {"%PAPER", c.paper.name()},
                                                     {"%SHEET", c.sheet.name()},
                                                     {"%HAIR", c.hairline.name()},
                                                     {"%PLANNED", c.planned.name()},
                                                     {"%BREAKS", c.breaks.name()},
                                                     {"%SELECT", c.selection.name()},
                                                     {"%SOFT", c.softInk.name()},
                                                     {"%BARTEXT", c.barText.name()},
                                                     {"%BAR", c.bar.name()},
                                                     {"%TEXT", QString::number(px(14))},
                                                     {"%CAP", QString::number(px(12))},
                                                     {"%TITLE", QString::number(px(18))}};
    for (const auto& [mark, value] : marks)
        sheet.replace(QLatin1String(mark), value);
    return sheet;
}

void loadFonts()
{
    // Fonts and palettes pass from a window to what is in it although there is a style sheet: a rule for
    // every widget would have each one look for its font again.
    QCoreApplication::setAttribute(Qt::AA_UseStyleSheetPropagationInWidgetStyles);
    QFontDatabase::addApplicationFont(u":/fonts/OffshootB612-Regular.otf"_s);
    QFontDatabase::addApplicationFont(u":/fonts/OffshootB612-Bold.otf"_s);
}

} // namespace offshoot::ui
