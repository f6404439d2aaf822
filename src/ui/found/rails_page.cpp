#include "ui/found/rails_page.h"

#include "core/values/format.h"
#include "ui/fields/job_table.h"
#include "ui/fields/scrolling.h"
#include "ui/found/rail_lanes.h"

#include <QCoreApplication>
#include <QLabel>
#include <QVBoxLayout>
#include <algorithm>

namespace offshoot::ui {

using namespace Qt::StringLiterals;

namespace {

QString tr(const char* text) { return QCoreApplication::translate("RailsPage", text); }

Rail& rail(Job& job, std::size_t row) { return job.found.rails.at(row); }

/// The need of a rail beside the first; made when it is first typed.
RailNeed* needOf(Job& job, std::size_t row, bool make)
{
    const std::string name = rail(job, row).name;
    const auto found = std::ranges::find(job.need.others, name, &RailNeed::rail);
    if (found != job.need.others.end())
        return &*found;
    if (!make)
        return nullptr;
    const double v = rail(job, row).v_v.value_or(1);
    constexpr double usual = 0.05;
    return &job.need.others.emplace_back(
        RailNeed{.rail = name, .min_v = v * (1 - usual), .max_v = v * (1 + usual)});
}

/// A window's edge: the need's own for the first rail, that of `others` for the rest.
TableColumn edgeColumn(const QString& title, double Target::*ofTarget, double RailNeed::*ofNeed)
{
    return {.title = title,
            .get =
                [=](const Job& job, std::size_t row) {
                    if (row == 0)
                        return job.need.target ? qs(formatVolts((*job.need.target).*ofTarget)) : QString();
                    const RailNeed* need = needOf(const_cast<Job&>(job), row, false);
                    return need != nullptr ? qs(formatVolts(need->*ofNeed)) : QString();
                },
            .set = [=](Job& job, std::size_t row, const QString& text) -> QString {
                if (row == 0)
                    return tr("the first rail's window is typed in Need");
                if (text.isEmpty()) {
                    std::erase_if(job.need.others,
                                  [&](const RailNeed& n) { return n.rail == rail(job, row).name; });
                    return {};
                }
                const auto value = parseValue(text.toStdString(), Quantity::Voltage);
                if (!value)
                    return qs(value.problem().message);
                RailNeed* need = needOf(job, row, true);
                need->*ofNeed = value->value;
                return need->min_v < need->max_v ? QString()
                                                 : tr("the lower edge is not below the upper one");
            }};
}

/// A rail's name is also how its need and its followers find it.
void rename(Job& job, std::size_t row, const std::string& name)
{
    const std::string old = rail(job, row).name;
    for (RailNeed& need : job.need.others)
        if (need.rail == old)
            need.rail = name;
    for (Rail& other : job.found.rails)
        if (other.regulated_by == old)
            other.regulated_by = name;
    for (Wire& wire : job.found.wires)
        if (wire.rail == old)
            wire.rail = name;
    if (job.plan.replace)
        for (ReplacingUnit& unit : job.plan.replace->units)
            for (ServedRail& served : unit.rails)
                if (served.rail == old)
                    served.rail = name;
    for (StateDraw& draw : job.need.measured)
        if (draw.rail == old)
            draw.rail = name;
    if (job.plan.panel)
        for (PanelItem& item : job.plan.panel->items)
            if (item.serves == old)
                item.serves = name;
    rail(job, row).name = name;
}

TableSpec railsSpec()
{
    TableColumn name =
        textColumn(tr("Rail"), [](Job& j, std::size_t r) -> std::string& { return rail(j, r).name; });
    name.set = [](Job& job, std::size_t row, const QString& text) -> QString {
        if (text.isEmpty())
            return tr("a name is wanted");
        rename(job, row, text.toStdString());
        return {};
    };
    TableColumn loop{
        .title = tr("follows"),
        .get = [](const Job& job,
                  std::size_t row) { return qs(job.found.rails.at(row).regulated_by.value_or("")); },
        .set = [](Job& job, std::size_t row, const QString& text) -> QString {
            rail(job, row).regulated_by = text.isEmpty() ? std::nullopt : std::optional(text.toStdString());
            return {};
        }};
    const QStringList signs{tr("positive"), tr("negative")};
    TableColumn polarity{
        .title = tr("polarity"),
        .get = [signs](const Job& job,
                       std::size_t row) { return signs.at(job.found.rails.at(row).negative ? 1 : 0); },
        .set = [signs](Job& job, std::size_t row, const QString& text) -> QString {
            rail(job, row).negative = text == signs.at(1);
            return {};
        },
        .choices = signs,
        .narrow = true};
    const QStringList change{QString(), tr("under change")};
    TableColumn under{
        .title = tr("retuned"),
        .get = [change](const Job& /*job*/, std::size_t row) { return change.at(row == 0 ? 1 : 0); },
        .set = [change](Job& job, std::size_t row, const QString& text) -> QString {
            if (text != change.at(1))
                return {};
            if (const auto& regulator = job.found.rails.at(row).regulated_by)
                return tr("it follows %1: that one is retuned").arg(qs(*regulator));
            putUnderChange(job, row);
            return {};
        },
        .choices = change,
        .narrow = true};
    return {.name = tr("Rails"),
            .one = tr("rail"),
            .count = [](const Job& job) { return job.found.rails.size(); },
            .add =
                [](Job& job) {
                    Rail made{};
                    made.name = "rail " + std::to_string(job.found.rails.size() + 1);
                    job.found.rails.push_back(std::move(made));
                },
            .remove =
                [](Job& job, std::size_t row) {
                    job.found.rails.erase(job.found.rails.begin() + static_cast<std::ptrdiff_t>(row));
                },
            .columns = {name, under, polarity,
                        numberColumn(
                            tr("gives"), Quantity::Voltage,
                            [](Job& j, std::size_t r) -> std::optional<double>& { return rail(j, r).v_v; }),
                        numberColumn(tr("rated"), Quantity::Current,
                                     [](Job& j, std::size_t r) -> std::optional<double>& {
                                         return rail(j, r).i_rated_a;
                                     }),
                        loop, edgeColumn(tr("wanted from"), &Target::min_v, &RailNeed::min_v),
                        edgeColumn(tr("to"), &Target::max_v, &RailNeed::max_v)},
            .least = 1};
}

/// Users stand in one list over all rails; a row is the n-th of them.
std::pair<std::size_t, std::size_t> userAt(const Job& job, std::size_t row)
{
    for (std::size_t r = 0; r < job.found.rails.size(); ++r) {
        if (row < job.found.rails[r].users.size())
            return {r, row};
        row -= job.found.rails[r].users.size();
    }
    return {0, 0};
}

RailUser& user(Job& job, std::size_t row)
{
    const auto [r, u] = userAt(job, row);
    return job.found.rails.at(r).users.at(u);
}

TableSpec usersSpec()
{
    TableColumn of{.title = tr("of rail"),
                   .get = [](const Job& job,
                             std::size_t row) { return qs(job.found.rails.at(userAt(job, row).first).name); },
                   .set = [](Job& job, std::size_t row, const QString& text) -> QString {
                       Rail* to = text.isEmpty() ? nullptr : railNamed(job.found, text.toStdString());
                       if (to == nullptr)
                           return tr("no rail of that name");
                       const auto [r, u] = userAt(job, row);
                       Rail& from = job.found.rails.at(r);
                       RailUser moved = from.users.at(u);
                       from.users.erase(from.users.begin() + static_cast<std::ptrdiff_t>(u));
                       to->users.push_back(std::move(moved));
                       return {};
                   }};
    const auto number = [](std::optional<double> RailUser::*member) {
        return [member](Job& j, std::size_t r) -> std::optional<double>& { return user(j, r).*member; };
    };
    return {
        .name = tr("Who uses them"),
        .one = tr("user"),
        .count =
            [](const Job& job) {
                std::size_t all = 0;
                for (const Rail& r : job.found.rails)
                    all += r.users.size();
                return all;
            },
        .add = [](Job& job) { job.found.rails.front().users.push_back(RailUser{}); },
        .remove =
            [](Job& job, std::size_t row) {
                const auto [r, u] = userAt(job, row);
                auto& users = job.found.rails.at(r).users;
                users.erase(users.begin() + static_cast<std::ptrdiff_t>(u));
            },
        .columns = {of,
                    textColumn(
                        tr("user"), [](Job& j, std::size_t r) -> std::string& { return user(j, r).name; },
                        false),
                    textColumn(tr("at"),
                               [](Job& j, std::size_t r) -> std::string& { return user(j, r).connector; }),
                    numberColumn(tr("typical"), Quantity::Current, number(&RailUser::typical_a)),
                    numberColumn(tr("least"), Quantity::Current, number(&RailUser::least_a)),
                    numberColumn(tr("bears from"), Quantity::Voltage, number(&RailUser::min_v)),
                    numberColumn(tr("to"), Quantity::Voltage, number(&RailUser::max_v)),
                    textColumn(tr("would lose"),
                               [](Job& j, std::size_t r) -> std::string& { return user(j, r).if_lost; })}};
}

TableSpec trimmersSpec()
{
    TableColumn rails{.title = tr("moves (empty: all of the first loop)"),
                      .get =
                          [](const Job& job, std::size_t row) {
                              QStringList names;
                              for (const std::string& name : job.found.trimmers.at(row).rails)
                                  names << qs(name);
                              return names.join(u", "_s);
                          },
                      .set = [](Job& job, std::size_t row, const QString& text) -> QString {
                          std::vector<std::string> names;
                          for (const QString& part : text.split(u',', Qt::SkipEmptyParts)) {
                              names.push_back(part.trimmed().toStdString());
                              if (railNamed(job.found, names.back()) == nullptr)
                                  return tr("no rail is called %1").arg(part.trimmed());
                          }
                          job.found.trimmers.at(row).rails = names;
                          return {};
                      }};
    return {.name = tr("Trimmers"),
            .one = tr("trimmer"),
            .count = [](const Job& job) { return job.found.trimmers.size(); },
            .add = [](Job& job) { job.found.trimmers.push_back(Trimmer{}); },
            .remove =
                [](Job& job, std::size_t row) {
                    job.found.trimmers.erase(job.found.trimmers.begin() + static_cast<std::ptrdiff_t>(row));
                },
            .columns = {textColumn(
                            tr("trimmer"),
                            [](Job& j, std::size_t r) -> std::string& { return j.found.trimmers.at(r).name; },
                            false),
                        rails,
                        percentColumn(tr("travel from"),
                                      [](Job& j, std::size_t r) -> std::optional<double>& {
                                          return j.found.trimmers.at(r).min_scale;
                                      }),
                        percentColumn(tr("to"), [](Job& j, std::size_t r) -> std::optional<double>& {
                            return j.found.trimmers.at(r).max_scale;
                        })}};
}

const QStringList& functionNames()
{
    static const QStringList names{
        tr("unknown"),          tr("output"), tr("return"),       tr("enable"), tr("power good"),
        tr("standby"),          tr("sense"),  tr("sense return"), tr("live"),   tr("neutral"),
        tr("protective earth"), tr("feed"),   tr("feed return")};
    return names;
}

TableColumn wireFigure(const QString& title, Quantity quantity, std::optional<double> Wire::*at)
{
    return numberColumn(title, quantity, [at](Job& job, std::size_t row) -> std::optional<double>& {
        return job.found.wires.at(row).*at;
    });
}

TableSpec wiresSpec()
{
    TableColumn function{.title = tr("function"),
                         .get =
                             [](const Job& job, std::size_t row) {
                                 return functionNames().at(
                                     static_cast<int>(job.found.wires.at(row).function));
                             },
                         .set = [](Job& job, std::size_t row, const QString& text) -> QString {
                             const auto at = functionNames().indexOf(text);
                             if (at < 0)
                                 return tr("not one of the functions");
                             job.found.wires.at(row).function = static_cast<WireFunction>(at);
                             return {};
                         },
                         .choices = functionNames()};
    const QStringList answers{tr("colour: unknown"), tr("measured")};
    TableColumn measured{
        .title = tr("known by"),
        .get = [answers](const Job& job,
                         std::size_t row) { return answers.at(job.found.wires.at(row).measured ? 1 : 0); },
        .set = [answers](Job& job, std::size_t row, const QString& text) -> QString {
            job.found.wires.at(row).measured = text == answers.at(1);
            return {};
        },
        .choices = answers};
    return {.name = tr("Wires"),
            .one = tr("wire"),
            .count = [](const Job& job) { return job.found.wires.size(); },
            .add = [](Job& job) { job.found.wires.push_back(Wire{}); },
            .remove =
                [](Job& job, std::size_t row) {
                    job.found.wires.erase(job.found.wires.begin() + static_cast<std::ptrdiff_t>(row));
                },
            .columns =
                {textColumn(
                     tr("wire"),
                     [](Job& j, std::size_t r) -> std::string& { return j.found.wires.at(r).name; }, false),
                 textColumn(tr("colour"),
                            [](Job& j, std::size_t r) -> std::string& { return j.found.wires.at(r).colour; }),
                 function, measured,
                 textColumn(tr("rail"),
                            [](Job& j, std::size_t r) -> std::string& { return j.found.wires.at(r).rail; }),
                 wireFigure(tr("carries"), Quantity::Current, &Wire::current_a),
                 wireFigure(tr("size"), Quantity::WireSize, &Wire::area_m2),
                 wireFigure(tr("length"), Quantity::Length, &Wire::length_m),
                 wireFigure(tr("bears"), Quantity::Voltage, &Wire::insulation_v),
                 wireFigure(tr("contact"), Quantity::Current, &Wire::connector_a)}};
}

} // namespace

RailsPage::RailsPage(JobSession& session, Look& look, QWidget* parent)
    : QWidget(parent)
{
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, look.px(6), 0, 0);
    auto* holder = new QWidget;
    auto* column = new QVBoxLayout(holder);
    column->setContentsMargins(0, 0, look.px(8), 0);
    column->setSpacing(look.px(14));
    auto* lanes = new RailLanes(session, look);
    column->addWidget(lanes);
    auto* rails = new JobTable(railsSpec(), session, look);
    column->addWidget(rails);
    QObject::connect(lanes, &RailLanes::chosen, rails, &JobTable::goTo);
    for (TableSpec spec : {usersSpec(), trimmersSpec(), wiresSpec()})
        column->addWidget(new JobTable(std::move(spec), session, look));
    column->addStretch();
    layout->addWidget(scrolling(holder));
}

} // namespace offshoot::ui
