#include "ui/rehouse/rehouse_page.h"

#include "core/values/figures.h"
#include "core/values/format.h"
#include "ui/fields/job_table.h"
#include "ui/fields/lengths.h"
#include "ui/fields/table_columns.h"
#include "ui/fields/tabs.h"
#include "ui/fields/value_field.h"
#include "ui/rehouse/reach_picture.h"

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

constexpr auto pots = [](auto& job) -> auto& { return job.plan.rehouse->pots; };
constexpr auto spacers = [](auto& job) -> auto& { return job.plan.rehouse->spacers; };
constexpr auto readouts = [](auto& job) -> auto& { return job.plan.rehouse->readouts; };

bool planned(const Job& job) { return job.plan.rehouse.has_value(); }

/// What of the front serves it goes along.
void serveAnew(Job& job, const std::string& from, const std::string& to)
{
    if (job.plan.panel)
        for (PanelItem& item : job.plan.panel->items)
            if (item.serves == from)
                item.serves = to;
}

QStringList setsWords() { return {RehousePage::tr("volts"), RehousePage::tr("amperes")}; }
QStringList noYes() { return {RehousePage::tr("no"), RehousePage::tr("yes")}; }

TableColumn lengthColumn()
{
    return {.title = RehousePage::tr("wires, mm"),
            .get = [](const Job& job, std::size_t row) { return qs(millimetres(pots(job).at(row).wire_m)); },
            .set = [](Job& job, std::size_t row, const QString& text) -> QString {
                const auto n = lengthsIn(text);
                if (n.size() != 1 || n[0] < 0)
                    return RehousePage::tr("from board to front: 120");
                pots(job).at(row).wire_m = n[0];
                return {};
            },
            .narrow = true};
}

/// A number that the job holds plainly.
TableColumn plainColumn(const QString& title, Quantity quantity, double BroughtOut::*member)
{
    return {.title = title,
            .get = [quantity,
                    member](const Job& job,
                            std::size_t row) { return qs(formatValue(pots(job).at(row).*member, quantity)); },
            .set = [quantity, member](Job& job, std::size_t row, const QString& text) -> QString {
                const auto value = parseValue(text.toStdString(), quantity);
                if (!value)
                    return qs(value.problem().message);
                if (value->value <= 0)
                    return RehousePage::tr("its value: 10k");
                pots(job).at(row).*member = value->value;
                return {};
            },
            .narrow = true};
}

TableSpec potsSpec()
{
    TableSpec spec = listSpec(RehousePage::tr("On wires"), RehousePage::tr("pot"), planned, pots,
                              [](Job& job) { return BroughtOut{.name = freshName(pots(job), "volts")}; });
    const auto optional = [](std::optional<double> BroughtOut::*member) {
        return [member](Job& job, std::size_t row) -> std::optional<double>& {
            return pots(job).at(row).*member;
        };
    };
    TableColumn turns{
        .title = RehousePage::tr("turns"),
        .get = [](const Job& job, std::size_t row) { return QString::number(pots(job).at(row).turns); },
        .set = [](Job& job, std::size_t row, const QString& text) -> QString {
            bool number = false;
            const int typed = text.toInt(&number);
            constexpr int most = 40;
            if (!number || typed < 1 || typed > most)
                return RehousePage::tr("1, or 10 of a helical one");
            pots(job).at(row).turns = typed;
            return {};
        },
        .narrow = true};
    spec.columns = {
        nameOnceColumn(RehousePage::tr("sets"), pots, serveAnew),
        wordColumn(RehousePage::tr("in"), pots, setsWords(), &BroughtOut::sets),
        wordColumn(RehousePage::tr("wired"), pots, everyWord<PotWiring>(phrase), &BroughtOut::wiring),
        plainColumn(RehousePage::tr("value"), Quantity::Resistance, &BroughtOut::ohm),
        turns,
        lengthColumn(),
        wordColumn(RehousePage::tr("twisted"), pots, noYes(), &BroughtOut::twisted),
        numberColumn(RehousePage::tr("guard"), Quantity::Resistance, optional(&BroughtOut::guard_ohm)),
        numberColumn(RehousePage::tr("reference"), Quantity::Voltage, optional(&BroughtOut::reference_v)),
        numberColumn(RehousePage::tr("fixed leg"), Quantity::Resistance, optional(&BroughtOut::other_ohm))};
    return spec;
}

TableSpec spacersSpec()
{
    TableSpec spec =
        listSpec(RehousePage::tr("Spacers under the board"), RehousePage::tr("spacer"), planned, spacers,
                 [](Job& job) { return Spacer{.name = freshName(spacers(job), "spacer")}; });
    const QStringList answers{RehousePage::tr("not measured"), RehousePage::tr("nothing"),
                              RehousePage::tr("current")};
    TableColumn carries{.title = RehousePage::tr("carries"),
                        .get =
                            [answers](const Job& job, std::size_t row) {
                                const auto& measured = spacers(job).at(row).carries;
                                return answers[!measured ? 0 : *measured ? 2 : 1];
                            },
                        .set = [answers](Job& job, std::size_t row, const QString& text) -> QString {
                            const auto at = answers.indexOf(text);
                            spacers(job).at(row).carries = at <= 0 ? std::nullopt : std::optional(at == 2);
                            return {};
                        },
                        .choices = answers};
    const auto optional = [](std::optional<double> Spacer::*member) {
        return [member](Job& job, std::size_t row) -> std::optional<double>& {
            return spacers(job).at(row).*member;
        };
    };
    spec.columns = {
        nameOnceColumn(RehousePage::tr("spacer"), spacers), carries,
        numberColumn(RehousePage::tr("amperes"), Quantity::Current, optional(&Spacer::current_a)),
        numberColumn(RehousePage::tr("wire in its place"), Quantity::WireSize, optional(&Spacer::area_m2)),
        wordColumn(RehousePage::tr("insulated"), spacers, noYes(), &Spacer::insulated)};
    return spec;
}

/// "5.02/5.00, 12.1/12.0": shown and true.
QString pairsText(const std::vector<ReadoutPair>& points)
{
    QStringList all;
    for (const ReadoutPair& pair : points)
        all << u"%1/%2"_s.arg(qs(significant(pair.shown, 6)), qs(significant(pair.truth, 6)));
    return all.join(u", "_s);
}

QString readPairs(const QString& text, std::vector<ReadoutPair>& points)
{
    std::vector<ReadoutPair> read;
    for (const QString& part : text.split(u',', Qt::SkipEmptyParts)) {
        const QStringList sides = part.split(u'/');
        bool shown_reads = false;
        bool truth_reads = false;
        const double shown = sides.value(0).trimmed().toDouble(&shown_reads);
        const double truth = sides.value(1).trimmed().toDouble(&truth_reads);
        if (sides.size() != 2 || !shown_reads || !truth_reads)
            return RehousePage::tr("shown and true, pair by pair: 5.02/5.00, 12.1/12.0");
        read.push_back({.shown = shown, .truth = truth});
    }
    points = std::move(read);
    return {};
}

TableSpec readoutsSpec()
{
    TableSpec spec =
        listSpec(RehousePage::tr("Readouts"), RehousePage::tr("readout"), planned, readouts,
                 [](Job& job) { return FrontReadout{.name = freshName(readouts(job), "volts")}; });
    TableColumn points{
        .title = RehousePage::tr("shown/true"),
        .get = [](const Job& job, std::size_t row) { return pairsText(readouts(job).at(row).points); },
        .set = [](Job& job, std::size_t row,
                  const QString& text) { return readPairs(text, readouts(job).at(row).points); }};
    const auto claimed = [](double ReadoutClaim::*member, double factor) {
        return TableColumn{
            .title = {},
            .get =
                [member, factor](const Job& job, std::size_t row) {
                    const auto& claim = readouts(job).at(row).claim;
                    return claim ? qs(significant((*claim).*member * factor, 4)) : QString();
                },
            .set = [member, factor](Job& job, std::size_t row, const QString& text) -> QString {
                bool number = false;
                const double value = text.toDouble(&number) / factor;
                if (!text.isEmpty() && (!number || value < 0))
                    return RehousePage::tr("a figure: 1");
                auto& claim = readouts(job).at(row).claim;
                if (!claim)
                    claim = ReadoutClaim{};
                (*claim).*member = text.isEmpty() ? 0 : value;
                if (*claim == ReadoutClaim{})
                    claim.reset();
                return {};
            },
            .narrow = true};
    };
    constexpr double percent = 100;
    TableColumn share = claimed(&ReadoutClaim::reading_fraction, percent);
    share.title = RehousePage::tr("claims ± %");
    TableColumn counts = claimed(&ReadoutClaim::counts, 1);
    counts.title = RehousePage::tr("+ counts");
    TableColumn step = claimed(&ReadoutClaim::resolution, 1);
    step.title = RehousePage::tr("of");
    spec.columns = {nameOnceColumn(RehousePage::tr("readout"), readouts, serveAnew),
                    wordColumn(RehousePage::tr("shows"), readouts, setsWords(), &FrontReadout::shows),
                    points,
                    share,
                    counts,
                    step};
    return spec;
}

} // namespace

RehousePage::RehousePage(JobSession& session, Look& look, QWidget* parent)
    : WorkspacePage(session, look, parent)
    , m_picture(new ReachPicture(look))
    , m_judged(richText())
    , m_toggle(new QPushButton)
{
    addAbove(*m_picture);
    m_toggle->setObjectName(u"rehouse"_s);
    connect(m_toggle, &QPushButton::clicked, this, &RehousePage::toggle);
    auto* column = new QVBoxLayout;
    column->addWidget(tables(), 1);
    column->addStretch();
    auto* row = new QHBoxLayout;
    row->addWidget(m_toggle);
    row->addStretch();
    column->addLayout(row);
    body().addLayout(column);
    follow();
}

QWidget* RehousePage::tables()
{
    m_rest = new QWidget;
    auto* column = new QVBoxLayout(m_rest);
    column->setContentsMargins(0, 0, 0, 0);
    auto* head = new QHBoxLayout;
    auto* stack = new QStackedWidget;
    addTabs(*head, {tr("Judged"), tr("Potentiometers"), tr("Spacers"), tr("Readouts"), tr("Feed and case")},
            [stack](int at) { stack->setCurrentIndex(at); });
    head->addStretch();
    column->addLayout(head);
    stack->addWidget(scrolling(m_judged));
    for (const TableSpec& spec : {potsSpec(), spacersSpec(), readoutsSpec()})
        stack->addWidget(scrolling(new JobTable(spec, m_session, m_look)));
    stack->addWidget(scrolling(feedFields()));
    column->addWidget(stack, 1);
    return m_rest;
}

QWidget* RehousePage::feedFields()
{
    auto* box = new QWidget;
    auto* form = new QFormLayout(box);
    const auto field = [&](const QString& label, std::optional<double> RehousePlan::*at,
                           const QString& hint) {
        addValueRow(*form,
                    {.label = label,
                     .quantity = Quantity::Current,
                     .get = [at](const Job& job) -> std::optional<double> {
                         return job.plan.rehouse ? (*job.plan.rehouse).*at : std::nullopt;
                     },
                     .set =
                         [at](Job& job, std::optional<double> value) {
                             if (job.plan.rehouse)
                                 (*job.plan.rehouse).*at = value;
                         },
                     .hint = hint},
                    m_session);
    };
    field(tr("fuse in the feed"), &RehousePlan::fuse_a, tr("2.5 A"));
    field(tr("feed gives at most"), &RehousePlan::feed_a, tr("10 A"));
    form->addRow(new TickField(
        tr("The case has vents, below and above"),
        [](const Job& job) { return job.plan.rehouse && job.plan.rehouse->vented; },
        [](Job& job, bool on) {
            if (job.plan.rehouse)
                job.plan.rehouse->vented = on;
        },
        m_session));
    return box;
}

void RehousePage::toggle()
{
    if (m_session.job().plan.rehouse)
        return m_session.edit(tr("without a case of its own"), [](Job& job) { job.plan.rehouse.reset(); });
    m_session.edit(tr("a case of its own"), [](Job& job) { job.plan.rehouse = usualRehousing(job); });
}

void RehousePage::refresh()
{
    const Job& job = m_session.job();
    const RehouseView view = rehouseView(job);
    setSentence(qs(view.sentence));
    m_picture->show(job, view);
    const bool planned = job.plan.rehouse.has_value();
    m_toggle->setEnabled(planned || view.module != nullptr);
    m_toggle->setText(planned ? tr("Without a case of its own") : tr("Give it a case of its own"));
    m_rest->setVisible(planned);
    QString html = judgedHtml(judgedLines(view.rows), m_look.colours());
    if (!view.school.sides.empty())
        html += schoolsHtml({view.school}, m_look.colours());
    m_judged->setText(html);
}

} // namespace offshoot::ui
