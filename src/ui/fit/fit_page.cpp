#include "ui/fit/fit_page.h"

#include "core/supply/shelf_text.h"
#include "core/values/format.h"
#include "store/job_store.h"
#include "ui/fields/flow_row.h"
#include "ui/fields/job_table.h"
#include "ui/fields/tabs.h"
#include "ui/fields/value_field.h"
#include "ui/fit/sheet_export.h"
#include "ui/paint/marks.h"

#include <QComboBox>
#include <QFileDialog>
#include <QFormLayout>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QRegularExpression>
#include <QStackedWidget>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>

namespace offshoot::ui {

using namespace Qt::StringLiterals;

namespace {

constexpr double mm = 1e-3;
constexpr int nudge_key = 71;

QString millimetres(double m) { return qs(significant(m / mm, 4)); }

/// "12, 30" or "12, 30, 5" in millimetres.
std::vector<double> numbersIn(const QString& text)
{
    std::vector<double> all;
    static const QRegularExpression between(u"[\\s,;/x×]+"_s);
    for (const QString& part : text.split(between, Qt::SkipEmptyParts)) {
        bool number = false;
        const double value = part.toDouble(&number);
        if (!number || !std::isfinite(value))
            return {};
        all.push_back(value * mm);
    }
    return all;
}

using BoxesAt = std::vector<NamedBox> CaseSpace::*;

TableSpec boxesSpec(const QString& name, const QString& one, BoxesAt list)
{
    const auto box = [list](Job& job, std::size_t row) -> NamedBox& {
        return ((*job.found.space).*list).at(row);
    };
    const auto read = [list](const Job& job, std::size_t row) -> const NamedBox& {
        return ((*job.found.space).*list).at(row);
    };
    TableColumn at{
        .title = FitPage::tr("at, mm"),
        .get =
            [read](const Job& job, std::size_t row) {
                const NamedBox& b = read(job, row);
                return u"%1, %2, %3"_s.arg(millimetres(b.x_m), millimetres(b.y_m), millimetres(b.z_m));
            },
        .set = [box](Job& job, std::size_t row, const QString& text) -> QString {
            const auto n = numbersIn(text);
            if (n.size() != 2 && n.size() != 3)
                return FitPage::tr("from the left and the front wall, and above the floor: 150, 90, 0");
            NamedBox& b = box(job, row);
            b.x_m = n[0];
            b.y_m = n[1];
            b.z_m = n.size() > 2 ? n[2] : 0;
            return {};
        }};
    TableColumn size{.title = FitPage::tr("size, mm"),
                     .get =
                         [read](const Job& job, std::size_t row) {
                             const NamedBox& b = read(job, row);
                             return u"%1 × %2 × %3"_s.arg(millimetres(b.dx_m), millimetres(b.dy_m),
                                                          millimetres(b.dz_m));
                         },
                     .set = [box](Job& job, std::size_t row, const QString& text) -> QString {
                         const auto s = sizeIn(text.toStdString());
                         if (!s)
                             return FitPage::tr("width, depth and height: 90x60x50");
                         NamedBox& b = box(job, row);
                         b.dx_m = s->x_m;
                         b.dy_m = s->y_m;
                         b.dz_m = s->z_m;
                         return {};
                     }};
    return {
        .name = name,
        .one = one,
        .count = [list](const Job& job) { return job.found.space ? ((*job.found.space).*list).size() : 0; },
        .add =
            [list, one](Job& job) {
                if (!job.found.space)
                    return;
                auto& all = (*job.found.space).*list;
                std::string unique = one.toStdString();
                for (int i = 2; std::ranges::find(all, unique, &NamedBox::name) != all.end(); ++i)
                    unique = one.toStdString() + " " + std::to_string(i);
                all.push_back({.name = unique,
                               .x_m = 0,
                               .y_m = 0,
                               .z_m = 0,
                               .dx_m = 20 * mm,
                               .dy_m = 20 * mm,
                               .dz_m = 20 * mm});
            },
        .remove =
            [list](Job& job, std::size_t row) {
                auto& all = (*job.found.space).*list;
                all.erase(all.begin() + static_cast<std::ptrdiff_t>(row));
            },
        .columns = {textColumn(
                        FitPage::tr("what"),
                        [box](Job& job, std::size_t row) -> std::string& { return box(job, row).name; },
                        false),
                    at, size}};
}

TableSpec holesSpec()
{
    const auto hole = [](Job& job, std::size_t row) -> RoundHole& { return job.found.space->holes.at(row); };
    TableColumn at{.title = FitPage::tr("at, mm"),
                   .get =
                       [](const Job& job, std::size_t row) {
                           const RoundHole& h = job.found.space->holes.at(row);
                           return u"%1, %2"_s.arg(millimetres(h.x_m), millimetres(h.y_m));
                       },
                   .set = [hole](Job& job, std::size_t row, const QString& text) -> QString {
                       const auto n = numbersIn(text);
                       if (n.size() != 2)
                           return FitPage::tr("its middle from the left and the front wall: 78, 58");
                       hole(job, row).x_m = n[0];
                       hole(job, row).y_m = n[1];
                       return {};
                   }};
    TableColumn diameter{
        .title = FitPage::tr("⌀, mm"),
        .get = [](const Job& job,
                  std::size_t row) { return millimetres(job.found.space->holes.at(row).d_m); },
        .set = [hole](Job& job, std::size_t row, const QString& text) -> QString {
            const auto n = numbersIn(text);
            if (n.size() != 1 || n[0] <= 0)
                return FitPage::tr("its diameter: 3.2");
            hole(job, row).d_m = n[0];
            return {};
        }};
    return {.name = FitPage::tr("Old holes in the floor"),
            .one = FitPage::tr("hole"),
            .count = [](const Job& job) { return job.found.space ? job.found.space->holes.size() : 0; },
            .add =
                [](Job& job) {
                    if (job.found.space)
                        job.found.space->holes.push_back({20 * mm, 20 * mm, 3.2 * mm});
                },
            .remove =
                [](Job& job, std::size_t row) {
                    auto& all = job.found.space->holes;
                    all.erase(all.begin() + static_cast<std::ptrdiff_t>(row));
                },
            .columns = {at, diameter}};
}

/// A point of the floor, as a line.
class PointField : public QLineEdit
{
public:
    PointField(std::optional<FloorPoint> CaseSpace::*at, const QString& what, JobSession& session)
    {
        setAccessibleName(what);
        setPlaceholderText(FitPage::tr("from left, from front: 40, 26"));
        const auto show = [this, at, &session] {
            const auto& space = session.job().found.space;
            setText(space && (*space).*at
                        ? u"%1, %2"_s.arg(millimetres(((*space).*at)->x_m), millimetres(((*space).*at)->y_m))
                        : QString());
        };
        connect(&session, &JobSession::changed, this, show);
        connect(this, &QLineEdit::editingFinished, this, [this, at, what, &session] {
            const auto n = numbersIn(text());
            const auto& space = session.job().found.space;
            if (!space || (n.size() != 2 && !text().isEmpty()))
                return; // what was typed stays
            const auto point = n.size() == 2 ? std::optional(FloorPoint{n[0], n[1]}) : std::nullopt;
            if ((*space).*at != point)
                session.edit(what, [&](Job& job) { (*job.found.space).*at = point; });
        });
        show();
    }
};

} // namespace

FitPage::FitPage(JobSession& session, Look& look, QWidget* parent)
    : WorkspacePage(session, look, parent)
    , m_picture(new FitPicture(look))
    , m_unit(new QComboBox)
    , m_judged(richText())
    , m_said(caption({}))
    , m_inside(new QLineEdit)
{
    auto* left = new QVBoxLayout;
    left->addWidget(m_picture, 1);
    left->addWidget(caption(tr("drag, or ← ↑ ↓ → by 1 mm, Shift by 10 · R turns · Home: best place")));
    left->addWidget(tools());
    left->addWidget(m_said);
    m_said->hide();
    body().addLayout(left, 13);
    auto* right = new QWidget;
    right->setMinimumWidth(look.px(380));
    auto* column = new QVBoxLayout(right);
    column->setContentsMargins(0, 0, 0, 0);
    auto* head = new QHBoxLayout;
    auto* stack = new QStackedWidget;
    addTabs(*head, {tr("Judged"), tr("The case")}, [stack](int at) { stack->setCurrentIndex(at); });
    head->addStretch();
    column->addLayout(head);
    stack->addWidget(judgeTab());
    stack->addWidget(caseTab());
    column->addWidget(stack, 1);
    body().addWidget(right, 9);
    connect(m_picture, &FitPicture::nudged, this, &FitPage::nudge);
    connect(m_picture, &FitPicture::turned, this, &FitPage::turn);
    connect(m_picture, &FitPicture::bestWanted, this, &FitPage::best);
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
    const auto button = [&](const QString& text, auto act) {
        auto* made = new QPushButton(text);
        connect(made, &QPushButton::clicked, this, act);
        row->addWidget(made);
        m_buttons.push_back(made);
    };
    button(tr("Best place"), [this] { best(); });
    button(tr("Turn"), [this] { turn(); });
    button(tr("Drill template…"), [this] { saveSheets(tr("Drill template"), drillTemplate); });
    button(tr("Adapter plate…"), [this] { saveSheets(tr("Adapter plate"), adapterPlate); });
    return box;
}

QWidget* FitPage::judgeTab() { return scrolling(m_judged); }

QWidget* FitPage::caseTab()
{
    auto* box = new QWidget;
    auto* column = new QVBoxLayout(box);
    column->setContentsMargins(0, 0, m_look.px(8), 0);
    auto* form = new QFormLayout;
    m_inside->setObjectName(u"caseInside"_s);
    m_inside->setPlaceholderText(tr("220x150x60, in millimetres"));
    m_inside->setAccessibleName(tr("The case inside"));
    connect(m_inside, &QLineEdit::editingFinished, this, &FitPage::setInside);
    form->addRow(tr("inside"), m_inside);
    const auto length = [&](const QString& label, double CaseSpace::*at) {
        addValueRow(*form,
                    {.label = label,
                     .quantity = Quantity::Length,
                     .get = [at](const Job& job) -> std::optional<double> {
                         return job.found.space ? std::optional((*job.found.space).*at) : std::nullopt;
                     },
                     .set =
                         [at](Job& job, std::optional<double> value) {
                             if (job.found.space && value)
                                 (*job.found.space).*at = *value;
                         },
                     .zeroAllowed = true,
                     .hint = tr("5 mm")},
                    m_session);
    };
    length(tr("clear around it"), &CaseSpace::clear_m);
    length(tr("floor, thick"), &CaseSpace::floor_m);
    addValueRow(*form,
                {.label = tr("standoff"),
                 .quantity = Quantity::Length,
                 .get = [this](const Job& job) -> std::optional<double> {
                     const auto unit = static_cast<std::size_t>(std::max(0, m_unit->currentIndex()));
                     if (!job.plan.replace || unit >= job.plan.replace->units.size())
                         return std::nullopt;
                     const auto& place = job.plan.replace->units[unit].place;
                     return place ? std::optional(place->standoff_m) : std::nullopt;
                 },
                 .set =
                     [this](Job& job, std::optional<double> value) {
                         const auto unit = static_cast<std::size_t>(std::max(0, m_unit->currentIndex()));
                         if (value && job.plan.replace && unit < job.plan.replace->units.size() &&
                             job.plan.replace->units[unit].place)
                             job.plan.replace->units[unit].place->standoff_m = *value;
                     },
                 .zeroAllowed = true,
                 .hint = tr("6 mm")},
                m_session);
    form->addRow(tr("mains wires held at"),
                 new PointField(&CaseSpace::mains_from, tr("where the mains wires are held"), m_session));
    form->addRow(tr("output wires held at"),
                 new PointField(&CaseSpace::output_from, tr("where the output wires are held"), m_session));
    column->addLayout(form);
    column->addWidget(new TickField(
        tr("Its metal is earthed"),
        [](const Job& job) { return job.found.space && job.found.space->earthed_metal; },
        [](Job& job, bool on) {
            if (job.found.space)
                job.found.space->earthed_metal = on;
        },
        m_session));
    column->addWidget(
        new JobTable(boxesSpec(tr("What stays in it"), tr("part"), &CaseSpace::keep_out), m_session, m_look));
    column->addWidget(new JobTable(boxesSpec(tr("Vents"), tr("vent"), &CaseSpace::vents), m_session, m_look));
    column->addWidget(new JobTable(holesSpec(), m_session, m_look));
    column->addStretch();
    return scrolling(box);
}

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
    if (!m_inside->hasFocus())
        m_inside->setText(job.found.space ? u"%1x%2x%3"_s.arg(millimetres(job.found.space->inside.x_m),
                                                              millimetres(job.found.space->inside.y_m),
                                                              millimetres(job.found.space->inside.z_m))
                                          : QString());
    show(fitView(job, static_cast<std::size_t>(at)));
}

void FitPage::show(const FitView& view)
{
    m_view = view;
    m_picture->show(m_session.job(), static_cast<std::size_t>(std::max(0, m_unit->currentIndex())), m_view);
    setSentence(qs(view.sentence));
    m_judged->setText(judgedHtml());
    for (QPushButton* button : m_buttons)
        button->setEnabled(view.now.has_value());
}

QString FitPage::judgedHtml() const
{
    const Colours& c = m_look.colours();
    if (!m_view.now)
        return {};
    QString html = u"<table cellspacing=0 cellpadding=3 width='100%'>"_s;
    const auto line = [&](Verdict verdict, const QString& text) {
        html += u"<tr><td style='color:%1'><b>%2</b></td><td>%3</td></tr>"_s.arg(
            c.verdict(verdict).name(), verdictWord(verdict), text.toHtmlEscaped());
    };
    line(m_view.now->verdict,
         tr("%1 mm to %2, %3 mm wanted")
             .arg(millimetres(m_view.now->slack_m), qs(nearestWords(m_view.now->nearest)),
                  millimetres(m_view.input->clear_m)));
    for (const std::string& zone : m_view.now->blocked_zones)
        line(Verdict::Tight, tr("no room for its %1").arg(qs(zone)));
    if (m_view.near.empty())
        line(Verdict::Unknown, tr("where its mains terminals are is not on the shelf"));
    for (const NearThing& near : m_view.near)
        line(nearVerdict(near),
             tr("mains terminal %1: %2 mm to %3, %4 mm wanted (guide: the local standard rules)")
                 .arg(qs(near.terminal), millimetres(near.distance_m), qs(near.what),
                      millimetres(near.wanted_m)));
    html += u"</table>"_s;
    QString holes;
    for (const DrilledHole& hole : m_view.now->drill)
        holes += u"<br>⌀ %1 at %2 / %3%4"_s.arg(millimetres(hole.hole.d_m), millimetres(hole.hole.x_m),
                                                millimetres(hole.hole.y_m),
                                                hole.spoiled ? tr(", too near an old hole") : QString());
    if (!holes.isEmpty())
        html += u"<p><b>%1</b>%2</p>"_s.arg(tr("To drill, mm from left and front"), holes);
    if (m_view.screw)
        html += u"<p><b>%1</b> %2</p>"_s.arg(
            tr("Screws"), m_view.screw->length_m > 0
                              ? tr("%1 × %2 mm from below: floor, standoff and 3 to 5 mm of thread; look "
                                   "what lies behind the floor")
                                    .arg(qs(m_view.screw->thread), millimetres(m_view.screw->length_m))
                              : tr("%1, between %2 and %3 mm: none is sold so long, pack one with washers")
                                    .arg(qs(m_view.screw->thread), millimetres(m_view.screw->least_m),
                                         millimetres(m_view.screw->most_m)));
    return html + schoolsHtml({m_view.school}, c);
}

void FitPage::place(const QString& what, const PlacedAt& at, int mergeKey)
{
    const auto unit = static_cast<std::size_t>(std::max(0, m_unit->currentIndex()));
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

void FitPage::best()
{
    const auto unit = static_cast<std::size_t>(std::max(0, m_unit->currentIndex()));
    if (!m_session.job().plan.replace)
        return;
    if (const auto at = bestPlace(m_session.job(), unit))
        place(tr("unit at its best place"), *at);
}

void FitPage::setInside()
{
    const auto size = sizeIn(m_inside->text().toStdString());
    const auto& space = m_session.job().found.space;
    if (m_inside->text().trimmed().isEmpty())
        return;
    if (!size)
        return say(tr("The case inside: width, depth and height in millimetres, such as 220x150x60."));
    say({});
    if (space && space->inside == *size)
        return;
    m_session.edit(tr("the case inside"), [&](Job& job) {
        if (!job.found.space)
            job.found.space = CaseSpace{.inside = *size};
        job.found.space->inside = *size;
        placeUnits(job);
    });
}

void FitPage::saveSheets(const QString& title, TemplateSheets (*make)(const Job&, std::size_t))
{
    const auto unit = static_cast<std::size_t>(std::max(0, m_unit->currentIndex()));
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
