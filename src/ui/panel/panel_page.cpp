#include "ui/panel/panel_page.h"

#include "core/kinds/panel/panel_letters.h"
#include "core/values/figures.h"
#include "store/job_store.h"
#include "ui/fields/flow_row.h"
#include "ui/fields/job_table.h"
#include "ui/fields/lengths.h"
#include "ui/fields/table_columns.h"
#include "ui/fields/tabs.h"
#include "ui/fields/value_field.h"
#include "ui/fit/sheet_export.h"

#include <QFileDialog>
#include <QFormLayout>
#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QStackedWidget>
#include <QVBoxLayout>
#include <algorithm>

namespace offshoot::ui {

using namespace Qt::StringLiterals;

namespace {

using lengths::mm;
constexpr int move_key = 72;

/// "8" or "45.5 × 26.5".
template <class Shaped>
QString shapeText(const Shaped& shaped)
{
    if (shaped.d_m)
        return u"⌀ %1"_s.arg(mmText(*shaped.d_m));
    return shaped.dx_m ? u"%1 × %2"_s.arg(mmText(*shaped.dx_m), mmText(*shaped.dy_m)) : QString();
}

template <class Shaped>
QString readShape(const QString& text, bool may_be_empty, Shaped& shaped)
{
    const auto n = lengthsIn(text);
    const bool positive = std::ranges::all_of(n, [](double m) { return m > 0; });
    if (n.size() > 2 || !positive || (n.empty() && !(may_be_empty && text.trimmed().isEmpty())))
        return PanelPage::tr("a diameter, or width and height: 8 or 45.5x26.5");
    shaped.d_m = shaped.dx_m = shaped.dy_m = std::nullopt;
    if (n.size() == 1)
        shaped.d_m = n[0];
    if (n.size() == 2) {
        shaped.dx_m = n[0];
        shaped.dy_m = n[1];
    }
    return {};
}

/// `list` finds the rows in the job; it is asked only where a panel is planned.
template <class List>
TableColumn placeColumn(List list)
{
    return {.title = PanelPage::tr("at, mm"),
            .get =
                [list](const Job& job, std::size_t row) {
                    const auto& own = list(job).at(row);
                    return u"%1, %2"_s.arg(mmText(own.x_m), mmText(own.y_m));
                },
            .set = [list](Job& job, std::size_t row, const QString& text) -> QString {
                const auto n = lengthsIn(text);
                if (n.size() != 2)
                    return PanelPage::tr("its middle from the left and the lower edge: 30, 25");
                list(job).at(row).x_m = n[0];
                list(job).at(row).y_m = n[1];
                return {};
            },
            .narrow = true};
}

template <class List>
TableColumn shapeColumn(List list, bool may_be_empty)
{
    return {.title = PanelPage::tr("cut-out, mm"),
            .get = [list](const Job& job, std::size_t row) { return shapeText(list(job).at(row)); },
            .set =
                [list, may_be_empty](Job& job, std::size_t row, const QString& text) {
                    return readShape(text, may_be_empty, list(job).at(row));
                },
            .narrow = true};
}

QStringList noYes() { return {PanelPage::tr("no"), PanelPage::tr("yes")}; }

bool planned(const Job& job) { return job.plan.panel.has_value(); }

constexpr auto items = [](auto& job) -> auto& { return job.plan.panel->items; };
constexpr auto holes = [](auto& job) -> auto& { return job.plan.panel->holes; };

TableColumn narrow(TableColumn column)
{
    column.narrow = true;
    return column;
}

TableSpec itemsSpec()
{
    const auto text = [](std::string PanelItem::*member) {
        return [member](Job& job, std::size_t row) -> std::string& { return items(job).at(row).*member; };
    };
    TableSpec spec =
        listSpec(PanelPage::tr("Parts of the front"), PanelPage::tr("part"), planned, items, [](Job& job) {
            const PanelPlan& panel = *job.plan.panel;
            return PanelItem{
                .name = freshName(panel.items, "post"), .x_m = panel.width_m / 2, .y_m = panel.height_m / 2};
        });
    spec.columns = {
        nameOnceColumn(PanelPage::tr("part"), items),
        wordColumn(PanelPage::tr("is a"), items, everyWord<PanelPart>(partWords), &PanelItem::kind),
        textColumn(PanelPage::tr("serves"), text(&PanelItem::serves)),
        narrow(wordColumn(PanelPage::tr("return"), items, noYes(), &PanelItem::returns)),
        narrow(wordColumn(PanelPage::tr("mains"), items, noYes(), &PanelItem::mains)),
        placeColumn(items),
        shapeColumn(items, true),
        textColumn(PanelPage::tr("own letters"), text(&PanelItem::letters))};
    return spec;
}

TableSpec holesSpec()
{
    TableSpec spec = listSpec(PanelPage::tr("Holes it has already"), PanelPage::tr("hole"), planned, holes,
                              [](Job&) { return PanelHole{.x_m = 20 * mm, .y_m = 20 * mm, .d_m = 10 * mm}; });
    spec.columns = {placeColumn(holes), shapeColumn(holes, false),
                    narrow(wordColumn(PanelPage::tr("covered"), holes, noYes(), &PanelHole::covered))};
    return spec;
}

} // namespace

PanelPage::PanelPage(JobSession& session, Look& look, QWidget* parent)
    : WorkspacePage(session, look, parent)
    , m_picture(new PanelPicture(look))
    , m_judged(richText())
    , m_said(caption({}))
{
    addAbove(*m_picture);
    auto* column = new QVBoxLayout;
    column->setSpacing(look.px(4));
    column->addWidget(
        caption(tr("drag, or N P a part, ← ↑ ↓ → by 1 mm, Shift by 10 · Delete · Home: spread")));
    column->addWidget(tables(), 1);
    column->addWidget(tools());
    column->addWidget(m_said);
    m_said->hide();
    body().addLayout(column);
    connect(m_picture, &PanelPicture::moved, this,
            [this](std::size_t item, double x_m, double y_m, bool by_key) {
                m_session.edit(
                    tr("part of the front moved"),
                    [&](Job& job) {
                        items(job).at(item).x_m = x_m;
                        items(job).at(item).y_m = y_m;
                    },
                    by_key ? move_key : -1);
            });
    connect(m_picture, &PanelPicture::removeWanted, this, [this](std::size_t item) {
        m_session.edit(tr("part of the front removed"), [&](Job& job) {
            items(job).erase(items(job).begin() + static_cast<std::ptrdiff_t>(item));
        });
    });
    connect(m_picture, &PanelPicture::spreadWanted, this, &PanelPage::layOut);
    follow();
}

QWidget* PanelPage::tools()
{
    auto* box = new QWidget;
    auto* row = new FlowRow(box, m_look.px(6));
    const auto button = [&](const QString& text, auto act) {
        auto* made = new QPushButton(text);
        connect(made, &QPushButton::clicked, this, act);
        row->addWidget(made);
        return made;
    };
    m_lay = button({}, [this] { layOut(); });
    m_lay->setObjectName(u"layOutPanel"_s);
    m_template = button(tr("Panel template…"), [this] {
        const QString path = QFileDialog::getSaveFileName(this, tr("Panel template"), u"panel-template.pdf"_s,
                                                          tr("PDF (*.pdf);;SVG (*.svg)"));
        if (!path.isEmpty())
            exportTemplate(path);
    });
    m_drop = button(tr("Without a panel"), [this] {
        m_session.edit(tr("without a panel"), [](Job& job) { job.plan.panel.reset(); });
    });
    return box;
}

QWidget* PanelPage::tables()
{
    m_rest = new QWidget;
    auto* column = new QVBoxLayout(m_rest);
    column->setContentsMargins(0, 0, 0, 0);
    auto* head = new QHBoxLayout;
    auto* stack = new QStackedWidget;
    addTabs(*head, {tr("Judged"), tr("Parts"), tr("The panel")},
            [stack](int at) { stack->setCurrentIndex(at); });
    head->addStretch();
    column->addLayout(head);
    stack->addWidget(scrolling(m_judged));
    stack->addWidget(scrolling(new JobTable(itemsSpec(), m_session, m_look)));
    stack->addWidget(scrolling(panelFields()));
    column->addWidget(stack, 1);
    return m_rest;
}

QWidget* PanelPage::panelFields()
{
    auto* box = new QWidget;
    auto* column = new QVBoxLayout(box);
    column->setContentsMargins(0, 0, m_look.px(8), 0);
    auto* form = new QFormLayout;
    const auto length = [&](const QString& label, double PanelPlan::*at, const QString& hint) {
        addValueRow(*form,
                    {.label = label,
                     .quantity = Quantity::Length,
                     .get = [at](const Job& job) -> std::optional<double> {
                         return job.plan.panel ? std::optional((*job.plan.panel).*at) : std::nullopt;
                     },
                     .set =
                         [at](Job& job, std::optional<double> value) {
                             if (job.plan.panel && value)
                                 (*job.plan.panel).*at = *value;
                         },
                     .hint = hint},
                    m_session);
    };
    length(tr("wide"), &PanelPlan::width_m, tr("200 mm"));
    length(tr("high"), &PanelPlan::height_m, tr("60 mm"));
    length(tr("thick"), &PanelPlan::thick_m, tr("2 mm"));
    column->addLayout(form);
    const auto tick = [&](const QString& text, bool PanelPlan::*at) {
        column->addWidget(new TickField(
            text, [at](const Job& job) { return job.plan.panel && (*job.plan.panel).*at; },
            [at](Job& job, bool on) {
                if (job.plan.panel)
                    (*job.plan.panel).*at = on;
            },
            m_session));
    };
    tick(tr("A new panel, without the holes of the old one"), &PanelPlan::fresh);
    tick(tr("Of metal"), &PanelPlan::metal);
    column->addWidget(new JobTable(holesSpec(), m_session, m_look));
    column->addStretch();
    return box;
}

/// What a job like this brings to its front; where that is planned already, it is spread anew.
void PanelPage::layOut()
{
    const auto& panel = m_session.job().plan.panel;
    if (panel && !panel->items.empty())
        return m_session.edit(tr("the front spread"), [](Job& job) { spread(*job.plan.panel); });
    m_session.edit(tr("the front laid out"), [](Job& job) { job.plan.panel = usualPanel(job); });
}

void PanelPage::refresh()
{
    const Job& job = m_session.job();
    const PanelView view = panelView(job, m_session.evaluation());
    setSentence(qs(view.sentence));
    m_picture->show(job.plan.panel, view);
    const bool planned = job.plan.panel.has_value();
    m_lay->setText(planned && !job.plan.panel->items.empty() ? tr("Spread anew") : tr("Lay out the front"));
    m_drop->setVisible(planned);
    m_template->setVisible(planned);
    m_rest->setVisible(planned);
    QString html = judgedHtml(judgedLines(view.rows), m_look.colours());
    QString why;
    for (std::size_t i = 0; i < view.items.size(); ++i)
        if (!view.items[i].why.empty())
            why += u"<br>%1: %2"_s.arg(qs(oneLine(view.items[i].letters)).toHtmlEscaped(),
                                       qs(view.items[i].why).toHtmlEscaped());
    if (!why.isEmpty())
        html += u"<p><b>%1</b>%2</p>"_s.arg(tr("Why it says so"), why);
    m_judged->setText(html);
}

void PanelPage::say(const QString& text)
{
    m_said->setText(text);
    m_said->setVisible(!text.isEmpty());
}

bool PanelPage::exportTemplate(const QString& path)
{
    try {
        const TemplateSheets sheets = panelTemplate(m_session.job(), m_session.evaluation());
        if (!sheets.problem.empty())
            throw StoreError(qs(sheets.problem));
        writeSheets(path, sheets.pages, tr("Panel template"));
    } catch (const StoreError& error) {
        say(QString::fromUtf8(error.what()));
        return false;
    }
    say(tr("Written to %1.").arg(path));
    return true;
}

} // namespace offshoot::ui
