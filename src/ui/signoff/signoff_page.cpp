#include "ui/signoff/signoff_page.h"

#include "ui/captures/captures_page.h"
#include "ui/fields/flow_row.h"
#include "ui/fields/page_area.h"
#include "ui/fields/tabs.h"
#include "ui/paint/marks.h"
#include "ui/plan/workspace_page.h"
#include "ui/refresh.h"
#include "ui/signoff/report.h"

#include <QAbstractButton>
#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QStackedWidget>
#include <QVBoxLayout>

namespace offshoot::ui {

using namespace Qt::StringLiterals;

SignOffPage::SignOffPage(CaptureIntake& captures, JobSession& session, Look& look, QWidget* parent)
    : QWidget(parent)
    , m_session(session)
    , m_look(look)
    , m_steps(new ProcedureView(Stage::SignOff, session, look))
    , m_captures(new CapturesPage(captures, session, look))
{
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(look.px(20), look.px(10), look.px(14), look.px(6));
    auto* head = new QHBoxLayout;
    auto* title = new QLabel(tr("Is it what was wanted?"));
    title->setProperty("role", u"title"_s);
    head->addWidget(title);
    head->addStretch();
    auto* stack = new QStackedWidget;
    m_tabs =
        addTabs(*head, {tr("Before and after"), tr("Captures"), tr("Unit beside unit"), tr("Last steps")},
                [stack](int index) { stack->setCurrentIndex(index); });
    layout->addLayout(head);
    layout->addWidget(stack, 1);
    stack->addWidget(compare());
    stack->addWidget(new PageArea(m_captures));
    stack->addWidget(units());
    stack->addWidget(m_steps);
}

void SignOffPage::showCaptures() { m_tabs.at(1)->click(); }

/// The report is always on paper; on the dark look its inks change with the ground.
QString SignOffPage::onScreen(QString table) const
{
    const Colours& c = m_look.colours();
    const Colours& paper = lightColours();
    const std::pair<QColor, QColor> inks[] = {{paper.found, c.found},       {paper.planned, c.planned},
                                              {paper.measured, c.measured}, {paper.fits, c.fits},
                                              {paper.tight, c.tight},       {paper.breaks, c.breaks}};
    for (const auto& [from, to] : inks)
        table.replace(from.name(), to.name());
    return table;
}

/// A second and third unit with the same change: what each reads, and how far they lie apart.
QWidget* SignOffPage::units()
{
    QLabel* says = richText();
    refreshWhileVisible(*says, m_session, m_look, [says, this] {
        says->setText(onScreen(unitsHtml(m_session.whole(), m_session.evaluation())) +
                      u"<p style='color:%1'>%2</p>"_s.arg(
                          m_look.colours().softInk.name(),
                          tr("A reading with a number behind # belongs to that unit: 24V 27.66 #2.")));
    });
    return scrolling(says);
}

QWidget* SignOffPage::compare()
{
    auto* box = new QWidget;
    auto* layout = new QVBoxLayout(box);
    layout->setContentsMargins(0, m_look.px(8), 0, 0);
    QLabel* says = richText();
    layout->addWidget(scrolling(says), 1);
    auto* row = new QWidget;
    auto* buttons = new FlowRow(row, m_look.px(6));
    auto* sign = new QPushButton(tr("Sign off"));
    sign->setObjectName(u"signOff"_s);
    sign->setProperty("main", true);
    connect(sign, &QPushButton::clicked, this, [this] { m_session.signOff(); });
    buttons->addWidget(sign);
    const std::pair<QString, QString> exports[] = {
        {u"pdf"_s, tr("Report PDF…")}, {u"html"_s, tr("Report HTML…")}, {u"svg"_s, tr("Label SVG…")}};
    for (const auto& [kind, text] : exports) {
        auto* button = new QPushButton(text);
        connect(button, &QPushButton::clicked, this, [this, k = kind] { Q_EMIT exportWanted(k); });
        buttons->addWidget(button);
    }
    auto* next = new QPushButton(tr("Same change on another unit"));
    connect(next, &QPushButton::clicked, this, &SignOffPage::nextUnitWanted);
    buttons->addWidget(next);
    layout->addWidget(row);
    const auto show = [=, this] {
        const Evaluation& e = m_session.evaluation();
        const Colours& c = m_look.colours();
        QString html = onScreen(comparisonHtml(e));
        if (e.signed_off)
            html += u"<p><b style='color:%1'>● %2</b></p>"_s.arg(c.fits.name(), tr("Signed off."));
        else if (e.blocks.empty())
            html += u"<p>%1</p>"_s.arg(tr("Nothing is open: it can be signed off."));
        else {
            html += u"<p><b>%1</b></p><ul>"_s.arg(tr("Before it can be signed off:"));
            for (const std::string& block : e.blocks)
                html += u"<li>%1</li>"_s.arg(qs(block).toHtmlEscaped());
            html += u"</ul><p style='color:%1'>%2</p>"_s.arg(
                c.softInk.name(), tr("A report of an unsigned job says so on every page."));
        }
        says->setText(html);
        sign->setEnabled(e.blocks.empty() && !e.signed_off);
    };
    refreshWhileVisible(*says, m_session, m_look, show);
    return box;
}

} // namespace offshoot::ui
