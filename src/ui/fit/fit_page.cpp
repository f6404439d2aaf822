#include "ui/fit/fit_page.h"

#include "core/values/figures.h"
#include "store/job_store.h"
#include "ui/fields/flow_row.h"
#include "ui/fields/lengths.h"
#include "ui/fields/tabs.h"
#include "ui/fit/case_tab.h"
#include "ui/fit/sheet_export.h"
#include "ui/paint/marks.h"

#include <QComboBox>
#include <QFileDialog>
#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QStackedWidget>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>

namespace offshoot::ui {

using namespace Qt::StringLiterals;

namespace {

using lengths::mm;
constexpr int nudge_key = 71;

} // namespace

FitPage::FitPage(JobSession& session, Look& look, QWidget* parent)
    : WorkspacePage(session, look, parent)
    , m_picture(new FitPicture(look))
    , m_unit(new QComboBox)
    , m_judged(richText())
    , m_said(caption({}))
{
    auto* left = new QVBoxLayout;
    left->addWidget(m_picture, 1);
    left->addWidget(caption(tr("drag, or ← ↑ ↓ → 1 mm, Shift 10 · R turns · Home best · S side")));
    left->addWidget(tools());
    body().addLayout(left, 13);
    auto* right = new QWidget;
    sizedWith(*right, look, [right, &look] { right->setMinimumWidth(look.px(380)); });
    auto* column = new QVBoxLayout(right);
    column->setContentsMargins(0, 0, 0, 0);
    auto* head = new QHBoxLayout;
    auto* stack = new QStackedWidget;
    addTabs(*head, {tr("Judged"), tr("The case")}, [stack](int at) { stack->setCurrentIndex(at); });
    head->addStretch();
    column->addLayout(head);
    stack->addWidget(scrolling(m_judged));
    stack->addWidget(scrolling(new CaseTab(session, look, [this] { return current(); })));
    column->addWidget(stack, 1);
    column->addWidget(sheets());
    column->addWidget(m_said);
    m_said->hide();
    body().addWidget(right, 9);
    connect(m_picture, &FitPicture::nudged, this, &FitPage::nudge);
    connect(m_picture, &FitPicture::turned, this, &FitPage::turn);
    connect(m_picture, &FitPicture::bestWanted, this, &FitPage::best);
    connect(m_picture, &FitPicture::sideWanted, this, &FitPage::otherSide);
    connect(m_picture, &FitPicture::dragged, this, [this](double x_m, double y_m) {
        PlacedAt at = *m_view.place;
        at.x_m = x_m;
        at.y_m = y_m;
        show(fitAt(m_session.job(), static_cast<std::size_t>(m_unit->currentIndex()), at));
    });
    connect(m_picture, &FitPicture::dropped, this, &FitPage::moveTo);
    connect(m_unit, &QComboBox::activated, this, [this] { refresh(); });
    follow();
}

QWidget* FitPage::tools()
{
    auto* box = new QWidget;
    auto* row = new FlowRow(box, m_look.px(6));
    m_unit->setAccessibleName(tr("Which unit is moved"));
    row->addWidget(m_unit);
    row->addWidget(button(tr("Best place"), [this] { best(); }));
    row->addWidget(button(tr("Turn"), [this] { turn(); }));
    m_side = new QPushButton(tr("From the side"));
    connect(m_side, &QPushButton::clicked, this, &FitPage::otherSide);
    row->addWidget(m_side);
    return box;
}

QWidget* FitPage::sheets()
{
    auto* box = new QWidget;
    auto* row = new FlowRow(box, m_look.px(6));
    row->addWidget(
        button(tr("Drill template…"), [this] { saveSheets(tr("Drill template"), drillTemplate); }));
    row->addWidget(button(tr("Adapter plate…"), [this] { saveSheets(tr("Adapter plate"), adapterPlate); }));
    return box;
}

/// One that needs a unit that has a place.
QPushButton* FitPage::button(const QString& text, const std::function<void()>& act)
{
    auto* made = new QPushButton(text);
    connect(made, &QPushButton::clicked, this, act);
    m_buttons.push_back(made);
    return made;
}

std::size_t FitPage::current() const { return static_cast<std::size_t>(std::max(0, m_unit->currentIndex())); }

void FitPage::refresh()
{
    const Job& job = m_session.job();
    const auto& plan = job.plan.replace;
    const int count = plan ? static_cast<int>(plan->units.size()) : 0;
    const int at = std::clamp(m_unit->currentIndex(), 0, std::max(0, count - 1));
    m_unit->clear();
    for (int i = 0; i < count; ++i)
        m_unit->addItem(qs(unitLabel(*plan, static_cast<std::size_t>(i))));
    m_unit->setCurrentIndex(count > 0 ? at : -1);
    m_unit->setVisible(count > 1);
    show(fitView(job, static_cast<std::size_t>(at)));
}

void FitPage::show(const FitView& view)
{
    m_view = view;
    m_picture->show(m_session.job(), current(), m_view);
    setSentence(qs(view.sentence));
    m_judged->setText(detailsHtml());
    for (QPushButton* button : m_buttons)
        button->setEnabled(view.now.has_value());
}

QString FitPage::detailsHtml() const
{
    const Colours& c = m_look.colours();
    if (!m_view.now)
        return {};
    QString html = judgedHtml(m_view.judged, c);
    QString holes;
    for (const DrilledHole& hole : m_view.now->drill)
        holes += u"<br>⌀ %1 at %2 / %3%4"_s.arg(mmText(hole.hole.d_m), mmText(hole.hole.x_m),
                                                mmText(hole.hole.y_m),
                                                hole.spoiled ? tr(", too near an old hole") : QString());
    if (!holes.isEmpty())
        html += u"<p><b>%1</b>%2</p>"_s.arg(tr("To drill, mm from left and front"), holes);
    if (m_view.screw)
        html += u"<p><b>%1</b> %2</p>"_s.arg(
            tr("Screws"),
            m_view.screw->length_m > 0
                ? tr("%1 × %2 mm from below: floor, standoff and the thread in the unit%3; look "
                     "what lies behind the floor")
                      .arg(qs(m_view.screw->thread), mmText(m_view.screw->length_m),
                           m_view.screw->assumed ? tr(", 3 to 5 mm assumed") : QString())
                : tr("%1, between %2 and %3 mm: none is sold so long, pack one with washers")
                      .arg(qs(m_view.screw->thread), mmText(m_view.screw->least_m),
                           mmText(m_view.screw->most_m)));
    return html + schoolsHtml({m_view.school}, c);
}

void FitPage::place(const QString& what, const PlacedAt& at, int mergeKey)
{
    const auto unit = current();
    if (!m_session.job().plan.replace || unit >= m_session.job().plan.replace->units.size())
        return;
    m_session.edit(
        what, [&](Job& job) { job.plan.replace->units[unit].place = at; }, mergeKey);
}

void FitPage::moveTo(double x_m, double y_m)
{
    PlacedAt at = *m_view.place;
    at.x_m = x_m;
    at.y_m = y_m;
    place(tr("unit moved"), at);
}

void FitPage::nudge(double dx_m, double dy_m)
{
    if (!m_view.place)
        return;
    const auto whole = [](double m) { return std::round(m / mm) * mm; };
    PlacedAt at = *m_view.place;
    at.x_m = whole(at.x_m + dx_m);
    at.y_m = whole(at.y_m + dy_m);
    place(tr("unit moved"), at, nudge_key);
}

/// About its middle, to whole millimetres.
void FitPage::turn()
{
    if (!m_view.place || !m_view.input)
        return;
    constexpr std::int64_t quarter = 90;
    constexpr std::int64_t whole_turn = 360;
    const BoxSize& size = m_view.input->unit.size;
    PlacedAt at = *m_view.place;
    const bool across = at.turn % (2 * quarter) != 0;
    const double by = (across ? size.y_m - size.x_m : size.x_m - size.y_m) / 2;
    const auto whole = [](double m) { return std::round(m / mm) * mm; };
    at.x_m = whole(at.x_m + by);
    at.y_m = whole(at.y_m - by);
    at.turn = (at.turn + quarter) % whole_turn;
    place(tr("unit turned"), at);
}

void FitPage::otherSide()
{
    m_picture->setFromSide(!m_picture->fromSide());
    m_side->setText(m_picture->fromSide() ? tr("From the front") : tr("From the side"));
}

void FitPage::best()
{
    const auto unit = current();
    if (!m_session.job().plan.replace)
        return;
    if (const auto at = bestPlace(m_session.job(), unit))
        place(tr("unit at its best place"), *at);
}

void FitPage::saveSheets(const QString& title, TemplateSheets (*make)(const Job&, std::size_t))
{
    const auto unit = current();
    const TemplateSheets sheets = make(m_session.job(), unit);
    if (!sheets.problem.empty())
        return say(qs(sheets.problem));
    const QString path = QFileDialog::getSaveFileName(
        this, title, title.toLower().replace(u' ', u'-') + u".pdf"_s, tr("PDF (*.pdf);;SVG (*.svg)"));
    if (!path.isEmpty())
        exportSheets(sheets, path, title);
}

void FitPage::say(const QString& text)
{
    m_said->setText(text);
    m_said->setVisible(!text.isEmpty());
}

bool FitPage::exportSheets(const TemplateSheets& sheets, const QString& path, const QString& title)
{
    try {
        if (!sheets.problem.empty())
            throw StoreError(qs(sheets.problem));
        writeSheets(path, sheets.pages, title);
    } catch (const StoreError& error) {
        say(QString::fromUtf8(error.what()));
        return false;
    }
    say(tr("Written to %1.").arg(path));
    return true;
}

} // namespace offshoot::ui
