#include "ui/hiccup/hiccup_page.h"

#include "core/evaluate/hiccup_view.h"
#include "ui/fields/value_field.h"

#include <QFormLayout>
#include <QHBoxLayout>
#include <QLabel>
#include <QScrollArea>
#include <QVBoxLayout>
#include <array>

namespace offshoot::ui {

using namespace Qt::StringLiterals;

HiccupPage::HiccupPage(JobSession& session, Look& look, QWidget* parent)
    : WorkspacePage(session, look, parent)
    , m_causes(richText())
{
    body().addWidget(scrolling(m_causes), 3);
    body().addWidget(questions(), 2);
    follow();
}

QWidget* HiccupPage::questions()
{
    auto* box = new QWidget;
    auto* layout = new QVBoxLayout(box);
    layout->setContentsMargins(0, 0, 0, 0);
    auto* title = new QLabel(u"<b>%1</b>"_s.arg(tr("What is seen?")));
    layout->addWidget(title);
    auto* form = new QFormLayout;
    form->setRowWrapPolicy(QFormLayout::WrapAllRows);
    ask(*form, tr("Is a limiter lamp in series?"), &HiccupSeen::lamp_in);
    ask(*form, tr("Does it run without the lamp?"), &HiccupSeen::stops_lamp_out);
    ask(*form, tr("Does it run with the load taken off?"), &HiccupSeen::stops_unloaded);
    ask(*form, tr("Does a light load make it run?"), &HiccupSeen::stops_with_load);
    ask(*form, tr("Does each burst reach the full output?"), &HiccupSeen::reaches_output);
    layout->addLayout(form);
    m_hint = caption({});
    layout->addWidget(m_hint);
    layout->addStretch();
    return box;
}

void HiccupPage::ask(QFormLayout& form, const QString& question, std::optional<bool> HiccupSeen::*answer)
{
    form.addRow(question, new ChoiceField(
                              question, {tr("not looked at"), tr("yes"), tr("no")},
                              [answer](const Job& job) {
                                  const auto& seen = job.hiccup.*answer;
                                  return !seen ? 0 : *seen ? 1 : 2;
                              },
                              [answer](Job& job, int at) {
                                  job.hiccup.*answer = at == 0 ? std::nullopt : std::optional(at == 1);
                              },
                              m_session));
}

void HiccupPage::refresh()
{
    m_hint->setText(
        tr("Across the dead output: log it as %1 4R7.").arg(qs(m_session.job().found.rails.front().name)));
    static const std::array names{
        QT_TR_NOOP("The controller starves"), QT_TR_NOOP("Overload"), QT_TR_NOOP("A short on the output"),
        QT_TR_NOOP("The limiter lamp is too small"), QT_TR_NOOP("A minimum load is missing")};
    static const std::array words{QT_TR_NOOP("likely"), QT_TR_NOOP("possible"), QT_TR_NOOP("ruled out")};
    const HiccupView view = hiccupView(m_session.job());
    setSentence(qs(view.sentence));
    const Colours& c = m_look.colours();
    QString html;
    for (const HiccupExplanation& e : view.result.causes) {
        const bool likely = e.likelihood == Likelihood::Likely;
        const bool out = e.likelihood == Likelihood::RuledOut;
        const QString mark = likely ? u"▶"_s : out ? u"✕"_s : u"▢"_s;
        html += u"<p><b style='color:%1'>%2 %3 · %4</b>"_s.arg(
            (likely ? c.planned
             : out  ? c.softInk
                    : c.ink)
                .name(),
            mark, tr(names.at(static_cast<std::size_t>(e.cause))),
            tr(words.at(static_cast<std::size_t>(e.likelihood))));
        for (const std::string& fact : e.speaks_for)
            html += u"<br>&nbsp;&nbsp;+ %1"_s.arg(qs(fact).toHtmlEscaped());
        for (const std::string& fact : e.speaks_against)
            html += u"<br>&nbsp;&nbsp;− %1"_s.arg(qs(fact).toHtmlEscaped());
        if (!out)
            html += u"<br><span style='color:%1'>&nbsp;&nbsp;%2</span>"_s.arg(c.softInk.name(),
                                                                              qs(e.next).toHtmlEscaped());
        html += u"</p>"_s;
    }
    m_causes->setText(html);
}

} // namespace offshoot::ui
