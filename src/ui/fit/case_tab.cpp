#include "ui/fit/case_tab.h"

#include "core/kinds/replace/wanted.h"
#include "core/supply/shelf_text.h"
#include "core/values/figures.h"
#include "ui/fields/job_table.h"
#include "ui/fields/lengths.h"
#include "ui/fields/table_columns.h"
#include "ui/fields/value_field.h"
#include "ui/plan/workspace_page.h"

#include <QFormLayout>
#include <QLabel>
#include <QLineEdit>
#include <QVBoxLayout>
#include <algorithm>

namespace offshoot::ui {

using namespace Qt::StringLiterals;

namespace {

using lengths::mm;

bool hasSpace(const Job& job) { return job.found.space.has_value(); }

template <typename Box>
TableSpec boxesSpec(const QString& name, const QString& one, std::vector<Box> CaseSpace::*list)
{
    const auto box = [list](Job& job, std::size_t row) -> Box& { return ((*job.found.space).*list).at(row); };
    const auto read = [list](const Job& job, std::size_t row) -> const Box& {
        return ((*job.found.space).*list).at(row);
    };
    TableColumn at{.title = CaseTab::tr("at, mm"),
                   .get =
                       [read](const Job& job, std::size_t row) {
                           const Box& b = read(job, row);
                           return u"%1, %2, %3"_s.arg(mmText(b.x_m), mmText(b.y_m), mmText(b.z_m));
                       },
                   .set = [box](Job& job, std::size_t row, const QString& text) -> QString {
                       const auto n = lengthsIn(text);
                       if (n.size() != 2 && n.size() != 3)
                           return CaseTab::tr(
                               "from the left and the front wall, and above the floor: 150, 90, 0");
                       Box& b = box(job, row);
                       b.x_m = n[0];
                       b.y_m = n[1];
                       b.z_m = n.size() > 2 ? n[2] : 0;
                       return {};
                   }};
    TableColumn size{.title = CaseTab::tr("size, mm"),
                     .get =
                         [read](const Job& job, std::size_t row) {
                             const Box& b = read(job, row);
                             return u"%1 × %2 × %3"_s.arg(mmText(b.dx_m), mmText(b.dy_m), mmText(b.dz_m));
                         },
                     .set = [box](Job& job, std::size_t row, const QString& text) -> QString {
                         const auto s = sizeIn(text.toStdString());
                         if (!s)
                             return CaseTab::tr("width, depth and height: 90x60x50");
                         Box& b = box(job, row);
                         b.dx_m = s->x_m;
                         b.dy_m = s->y_m;
                         b.dz_m = s->z_m;
                         return {};
                     }};
    const auto boxes = [list](auto& job) -> auto& { return (*job.found.space).*list; };
    TableSpec spec = listSpec(name, one, hasSpace, boxes, [boxes, one](Job& job) {
        return Box{.name = freshName(boxes(job), one.toStdString()),
                   .x_m = 0,
                   .y_m = 0,
                   .z_m = 0,
                   .dx_m = 20 * mm,
                   .dy_m = 20 * mm,
                   .dz_m = 20 * mm};
    });
    spec.columns = {nameOnceColumn(CaseTab::tr("what"), boxes), at, size};
    if constexpr (std::is_same_v<Box, KeptPart>)
        spec.columns.push_back(
            wordColumn(CaseTab::tr("of"), boxes, everyWord<Surface>(phrase), &KeptPart::surface));
    return spec;
}

TableSpec holesSpec()
{
    const auto hole = [](Job& job, std::size_t row) -> RoundHole& { return job.found.space->holes.at(row); };
    TableColumn at{.title = CaseTab::tr("at, mm"),
                   .get =
                       [](const Job& job, std::size_t row) {
                           const RoundHole& h = job.found.space->holes.at(row);
                           return u"%1, %2"_s.arg(mmText(h.x_m), mmText(h.y_m));
                       },
                   .set = [hole](Job& job, std::size_t row, const QString& text) -> QString {
                       const auto n = lengthsIn(text);
                       if (n.size() != 2)
                           return CaseTab::tr("its middle from the left and the front wall: 78, 58");
                       hole(job, row).x_m = n[0];
                       hole(job, row).y_m = n[1];
                       return {};
                   }};
    TableColumn diameter{
        .title = CaseTab::tr("⌀, mm"),
        .get = [](const Job& job, std::size_t row) { return mmText(job.found.space->holes.at(row).d_m); },
        .set = [hole](Job& job, std::size_t row, const QString& text) -> QString {
            const auto n = lengthsIn(text);
            if (n.size() != 1 || n[0] <= 0)
                return CaseTab::tr("its diameter: 3.2");
            hole(job, row).d_m = n[0];
            return {};
        }};
    TableSpec spec = listSpec(
        CaseTab::tr("Old holes"), CaseTab::tr("hole"), hasSpace,
        [](auto& job) -> auto& { return job.found.space->holes; },
        [](Job&) {
            return RoundHole{20 * mm, 20 * mm, 3.2 * mm};
        });
    spec.columns = {at, diameter};
    return spec;
}

/// A point of the floor, as a line.
class PointField : public QLineEdit
{
public:
    PointField(std::optional<FloorPoint> CaseSpace::*at, const QString& what, JobSession& session)
    {
        setAccessibleName(what);
        setPlaceholderText(CaseTab::tr("from left, from front: 40, 26"));
        const auto show = [this, at, &session] {
            const auto& space = session.job().found.space;
            setText(space && (*space).*at
                        ? u"%1, %2"_s.arg(mmText(((*space).*at)->x_m), mmText(((*space).*at)->y_m))
                        : QString());
        };
        connect(&session, &JobSession::changed, this, show);
        connect(this, &QLineEdit::editingFinished, this, [this, at, what, &session] {
            const auto n = lengthsIn(text());
            const auto& space = session.job().found.space;
            if (!space && text().isEmpty())
                return;
            if (!space || (n.size() != 2 && !text().isEmpty())) // what was typed stays
                return session.problem(
                    CaseTab::tr("Two figures are wanted, in millimetres from the left and the front "
                                "wall, and the case inside first."));
            const auto point = n.size() == 2 ? std::optional(FloorPoint{n[0], n[1]}) : std::nullopt;
            if ((*space).*at != point)
                session.edit(what, [&](Job& job) { (*job.found.space).*at = point; });
        });
        show();
    }
};

} // namespace

CaseTab::CaseTab(JobSession& session, Look& look, std::function<std::size_t()> unit, QWidget* parent)
    : QWidget(parent)
    , m_session(session)
    , m_unit(std::move(unit))
    , m_inside(new QLineEdit)
    , m_said(caption({}))
{
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, look.px(8), 0);
    auto* form = new QFormLayout;
    m_inside->setObjectName(u"caseInside"_s);
    m_inside->setPlaceholderText(tr("220x150x60, in millimetres"));
    m_inside->setAccessibleName(tr("The case inside"));
    connect(m_inside, &QLineEdit::editingFinished, this, &CaseTab::setInside);
    connect(&session, &JobSession::changed, this, &CaseTab::showInside);
    form->addRow(tr("inside"), m_inside);
    form->addRow(m_said);
    addLengths(*form);
    form->addRow(tr("mains wires held at"),
                 new PointField(&CaseSpace::mains_from, tr("where the mains wires are held"), session));
    form->addRow(tr("output wires held at"),
                 new PointField(&CaseSpace::output_from, tr("where the output wires are held"), session));
    column->addLayout(form);
    // Before the case has a size there is nowhere to put what is in it.
    m_rest = new QWidget;
    column->addWidget(m_rest);
    column->addStretch();
    auto* rest = new QVBoxLayout(m_rest);
    rest->setContentsMargins(0, 0, 0, 0);
    rest->addWidget(new TickField(
        tr("Its metal is earthed"),
        [](const Job& job) { return job.found.space && job.found.space->earthed_metal; },
        [](Job& job, bool on) {
            if (job.found.space)
                job.found.space->earthed_metal = on;
        },
        session));
    rest->addWidget(
        new JobTable(boxesSpec(tr("What stays in it"), tr("part"), &CaseSpace::keep_out), session, look));
    rest->addWidget(new JobTable(boxesSpec(tr("Vents"), tr("vent"), &CaseSpace::vents), session, look));
    rest->addWidget(new JobTable(holesSpec(), session, look));
    showInside();
}

void CaseTab::addLengths(QFormLayout& form)
{
    const auto length = [&](const QString& label, double CaseSpace::*at) {
        addValueRow(form,
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
    addValueRow(form,
                {.label = tr("standoff"),
                 .quantity = Quantity::Length,
                 .get = [this](const Job& job) -> std::optional<double> {
                     const auto unit = m_unit();
                     if (!job.plan.replace || unit >= job.plan.replace->units.size())
                         return std::nullopt;
                     const auto& place = job.plan.replace->units[unit].place;
                     return place ? std::optional(place->standoff_m) : std::nullopt;
                 },
                 .set =
                     [this](Job& job, std::optional<double> value) {
                         const auto unit = m_unit();
                         if (value && job.plan.replace && unit < job.plan.replace->units.size() &&
                             job.plan.replace->units[unit].place)
                             job.plan.replace->units[unit].place->standoff_m = *value;
                     },
                 .zeroAllowed = true,
                 .hint = tr("6 mm")},
                m_session);
}

void CaseTab::showInside()
{
    const auto& space = m_session.job().found.space;
    m_rest->setVisible(space.has_value());
    if (!m_inside->hasFocus())
        m_inside->setText(space ? u"%1x%2x%3"_s.arg(mmText(space->inside.x_m), mmText(space->inside.y_m),
                                                    mmText(space->inside.z_m))
                                : QString());
}

void CaseTab::setInside()
{
    const auto size = sizeIn(m_inside->text().toStdString());
    const auto& space = m_session.job().found.space;
    if (m_inside->text().trimmed().isEmpty())
        return;
    if (!size)
        return m_said->setText(
            tr("The case inside: width, depth and height in millimetres, such as 220x150x60."));
    m_said->clear();
    if (space && space->inside == *size)
        return;
    m_session.edit(tr("the case inside"), [&](Job& job) {
        if (!job.found.space)
            job.found.space = CaseSpace{.inside = *size};
        job.found.space->inside = *size;
        placeUnits(job);
    });
}

} // namespace offshoot::ui
