#include "ui/found/units_page.h"

#include "core/values/format.h"
#include "ui/fields/job_table.h"
#include "ui/found/unit_lanes.h"
#include "ui/plan/workspace_page.h"

#include <QCoreApplication>
#include <QLabel>
#include <QVBoxLayout>

namespace offshoot::ui {

using namespace Qt::StringLiterals;

namespace {

QString tr(const char* text) { return QCoreApplication::translate("UnitsPage", text); }

constexpr double schottkyV = 0.45;
const OringDiode usualOring{.v_f_v = schottkyV, .r_ohm = 0.01};
const ReverseDiode usualReverse{.v_rrm_v = 100, .i_a = 10};

Supply& unit(Job& job, std::size_t row) { return row == 0 ? job.found : job.others.at(row - 1); }

TableColumn joint(const QString& title, Quantity quantity, std::optional<double> Joint::*member)
{
    return numberColumn(title, quantity, [member](Job& job, std::size_t row) -> std::optional<double>& {
        return unit(job, row).joint.*member;
    });
}

/// A figure of a part that may not be there: typing one makes it, with the other figure as usual, and an
/// empty cell takes the part away.
template <class Part>
TableColumn partColumn(const QString& title, Quantity quantity, std::optional<Part> Joint::*at,
                       double Part::*figure, const Part& usual)
{
    return {.title = title,
            .get =
                [=](const Job& job, std::size_t row) {
                    const std::optional<Part>& part = unit(const_cast<Job&>(job), row).joint.*at;
                    return part ? qs(formatValue((*part).*figure, quantity)) : QString();
                },
            .set = [=](Job& job, std::size_t row, const QString& text) -> QString {
                std::optional<Part>& part = unit(job, row).joint.*at;
                if (text.isEmpty()) {
                    part.reset();
                    return {};
                }
                const auto value = parseValue(text.toStdString(), quantity);
                if (!value)
                    return qs(value.problem().message);
                if (!part)
                    part = usual;
                (*part).*figure = value->value;
                return {};
            },
            .narrow = true};
}

/// A cell that offers the words of an enumeration.
template <class E>
TableColumn choice(const QString& title, const QStringList& words, E& (*at)(Supply&))
{
    return {.title = title,
            .get =
                [words, at](const Job& job, std::size_t row) {
                    return words.at(static_cast<int>(at(unit(const_cast<Job&>(job), row))));
                },
            .set = [words, at](Job& job, std::size_t row, const QString& text) -> QString {
                const auto index = words.indexOf(text);
                if (index < 0)
                    return tr("not one of the choices");
                at(unit(job, row)) = static_cast<E>(index);
                return {};
            },
            .choices = words,
            .narrow = true};
}

TableColumn nameColumn()
{
    return {.title = tr("unit"),
            .get = [](const Job& job,
                      std::size_t row) { return u"%1  "_s.arg(row + 1) + qs(unitName(job, row + 1)); },
            .set = [](Job& job, std::size_t row, const QString& text) -> QString {
                QString name = text;
                const QString number = u"%1  "_s.arg(row + 1);
                if (name.startsWith(number))
                    name.remove(0, number.size());
                unit(job, row).name = name.trimmed().toStdString();
                return {};
            }};
}

std::size_t count(const Job& job) { return unitCount(job); }

TableSpec outputsSpec()
{
    return {.name = tr("Units of this job"),
            .one = tr("unit"),
            .count = count,
            .add =
                [](Job& job) {
                    job.others.push_back(job.found); // a copy, made its own cell by cell
                },
            .remove =
                [](Job& job, std::size_t row) {
                    if (row > 0)
                        job.others.erase(job.others.begin() + static_cast<std::ptrdiff_t>(row) - 1);
                },
            .columns = {nameColumn(),
                        numberColumn(tr("label"), Quantity::Voltage,
                                     [](Job& job, std::size_t row) -> std::optional<double>& {
                                         return unit(job, row).rails.front().v_v;
                                     }),
                        numberColumn(tr("rated"), Quantity::Current,
                                     [](Job& job, std::size_t row) -> std::optional<double>& {
                                         return unit(job, row).rails.front().i_rated_a;
                                     }),
                        joint(tr("stands at"), Quantity::Voltage, &Joint::v_set_v),
                        joint(tr("droop"), Quantity::Resistance, &Joint::r_out_ohm),
                        joint(tr("limits at"), Quantity::Current, &Joint::i_limit_a),
                        choice<LimitKind>(tr("and then"), {tr("holds"), tr("shuts down")},
                                          [](Supply& s) -> LimitKind& { return s.joint.limit; }),
                        joint(tr("lead, one way"), Quantity::Length, &Joint::lead_length_m),
                        joint(tr("of"), Quantity::WireSize, &Joint::lead_area_m2),
                        partColumn(tr("oring diode"), Quantity::Voltage, &Joint::diode, &OringDiode::v_f_v,
                                   usualOring),
                        partColumn(tr("and"), Quantity::Resistance, &Joint::diode, &OringDiode::r_ohm,
                                   usualOring)},
            .least = 1};
}

TableSpec earthSpec()
{
    return {.name = tr("What is earthed, and what holds charge"),
            .one = tr("unit"),
            .count = count,
            .columns = {nameColumn(),
                        choice<EarthClass>(tr("case"), {tr("earthed"), tr("class II")},
                                           [](Supply& s) -> EarthClass& { return s.earth_class; }),
                        choice<Bond>(tr("tied to it"),
                                     {tr("nothing"), tr("negative"), tr("positive"), tr("not measured")},
                                     [](Supply& s) -> Bond& { return s.joint.bonded; }),
                        joint(tr("insulation, working"), Quantity::Voltage, &Joint::isolation_v),
                        partColumn(tr("reverse diode"), Quantity::Voltage, &Joint::reverse_diode,
                                   &ReverseDiode::v_rrm_v, usualReverse),
                        partColumn(tr("and"), Quantity::Current, &Joint::reverse_diode, &ReverseDiode::i_a,
                                   usualReverse),
                        numberColumn(tr("bulk"), Quantity::Capacitance,
                                     [](Job& job, std::size_t row) -> std::optional<double>& {
                                         return unit(job, row).bulk.c_f;
                                     }),
                        numberColumn(tr("output"), Quantity::Capacitance,
                                     [](Job& job, std::size_t row) -> std::optional<double>& {
                                         return unit(job, row).rails.front().capacitor.c_f;
                                     })}};
}

} // namespace

UnitsPage::UnitsPage(JobSession& session, Look& look, QWidget* parent)
    : QWidget(parent)
{
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, look.px(6), 0, 0);
    auto* holder = new QWidget;
    auto* column = new QVBoxLayout(holder);
    column->setContentsMargins(0, 0, look.px(8), 0);
    column->setSpacing(look.px(14));
    column->addWidget(
        caption(tr("For units side by side, stacked, or feeding one load. Readings of the second "
                   "carry its number: out 15.02 #2. Every unit is a source: isolation covers all.")));
    column->addWidget(new UnitLanes(session, look));
    column->addWidget(new JobTable(outputsSpec(), session, look));
    column->addWidget(new JobTable(earthSpec(), session, look));
    column->addStretch();
    layout->addWidget(scrolling(holder));
}

} // namespace offshoot::ui
