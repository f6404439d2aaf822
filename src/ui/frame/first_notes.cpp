#include "ui/frame/first_notes.h"

#include "ui/fields/paragraph.h"

#include <QHBoxLayout>
#include <QPushButton>
#include <QSettings>

namespace offshoot::ui {

using namespace Qt::StringLiterals;

namespace {

QString& place()
{
    static QString file;
    return file;
}

QString keyOf(FirstNote note)
{
    return note == FirstNote::Isolation ? u"seen/isolation"_s : u"seen/log_line"_s;
}

QString textOf(FirstNote note)
{
    return note == FirstNote::Isolation
               ? FirstNotes::tr(
                     "The plate at the top right is the isolation control. A job counts as live until each "
                     "source is declared off and every reservoir is read below 10 V: only then may hands "
                     "go inside, and only then can such steps be ticked.")
               : FirstNotes::tr(
                     "Readings are one line: press / and type what the meter shows, such as bulk 3.2V or "
                     "out 12.06 @0.5A. How it was understood stands beside it before Enter.");
}

} // namespace

FirstNotes::FirstNotes(Look& look, QWidget* parent)
    : QWidget(parent)
    , m_text(new Paragraph)
{
    setObjectName(u"firstNote"_s);
    setAttribute(Qt::WA_StyledBackground); // what lies behind it is red while live
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(look.px(20), look.px(6), look.px(20), look.px(6));
    row->addWidget(m_text, 1);
    auto* one = new QPushButton(tr("Put it away"));
    auto* all = new QPushButton(tr("No more notes"));
    row->addWidget(one);
    row->addWidget(all);
    connect(one, &QPushButton::clicked, this, [this] { putAway(false); });
    connect(all, &QPushButton::clicked, this, [this] { putAway(true); });
    hide();
}

void FirstNotes::setPlace(const QString& file) { place() = file; }

void FirstNotes::offer(FirstNote note)
{
    if (place().isEmpty() || !m_offered.insert(note).second)
        return;
    QSettings settings(place(), QSettings::IniFormat);
    if (settings.value(u"none"_s, false).toBool() || settings.value(keyOf(note), false).toBool())
        return;
    settings.setValue(keyOf(note), true);
    m_text->setText(textOf(note));
    show();
}

void FirstNotes::putAway(bool all)
{
    if (all)
        QSettings(place(), QSettings::IniFormat).setValue(u"none"_s, true);
    hide();
}

} // namespace offshoot::ui
