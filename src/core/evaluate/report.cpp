#include "core/evaluate/report.h"

#include "core/evaluate/batch_view.h"
#include "core/evaluate/captures_view.h"
#include "core/evaluate/evaluation.h"
#include "core/evaluate/job_input.h"
#include "core/evaluate/parts.h"
#include "core/evaluate/readout_view.h"
#include "core/evaluate/ruler.h"
#include "core/evaluate/stations.h"
#include "core/evaluate/wiring_drawing.h"
#include "core/job/readings.h"
#include "core/kinds/kind.h"
#include "core/kinds/parts_list.h"
#include "core/kinds/picture.h"
#include "core/kinds/planned.h"
#include "core/supply/connections.h"
#include "core/values/figures.h"
#include "core/values/html.h"
#include "core/values/typed_words.h"

#include <algorithm>
#include <cmath>
#include <ctime>

namespace offshoot {

namespace {

using html::escaped;

std::string shown(double value, Quantity quantity)
{
    return quantity == Quantity::Voltage      ? volts(value)
           : quantity == Quantity::Resistance ? formatOhms(value)
                                              : formatValue(value, quantity);
}

/// UTC, so that the same log gives the same report everywhere.
std::string when(double time_s)
{
    const auto time = static_cast<std::time_t>(time_s);
    std::tm parts{};
    gmtime_r(&time, &parts);
    std::array<char, 32> text{};
    const std::size_t length = std::strftime(text.data(), text.size(), "%Y-%m-%d %H:%M", &parts);
    return {text.data(), length};
}

std::string verdictMark(Verdict verdict)
{
    static constexpr std::array<std::string_view, 4> shapes{"●", "◆", "▼", "▢"};
    static constexpr std::array<std::string_view, 4> colours{"#27692f", "#8f5200", "#b4261b", "#5a6972"};
    const auto at = static_cast<std::size_t>(verdict);
    return "<span style='color:" + std::string(colours.at(at)) + "'>" + std::string(shapes.at(at)) + " " +
           phrase(verdict) + "</span>";
}

std::string found(const std::string& text) { return "<span style='color:#4a5b65'>" + text + "</span>"; }
std::string planned(const std::string& text) { return "<b style='color:#075a57'>" + text + "</b>"; }
std::string measured(const std::string& text) { return "<span style='color:#6b3fa0'>" + text + "</span>"; }

std::string orDash(const std::string& text) { return text.empty() ? "–" : escaped(text); }

class ReportMaker
{
public:
    ReportMaker(const Job& job, const Evaluation& e, const ChainRun* run)
        : m_job(job)
        , m_e(e)
        , m_run(run)
        , m_struck(struckIds(job.log))
    {
        m_report.title = job.title;
        m_report.signed_off = e.signed_off;
    }

    Report run()
    {
        add(ReportBlockKind::Title, escaped(m_job.title));
        state();
        need();
        path();
        change();
        steps();
        comparison();
        captures();
        readouts();
        consequences();
        parts();
        notes();
        return std::move(m_report);
    }

private:
    ReportBlock& add(ReportBlockKind kind, std::string html)
    {
        m_report.blocks.push_back(
            {.kind = kind, .html = std::move(html), .head = {}, .rows = {}, .widths = {}, .data = {}});
        return m_report.blocks.back();
    }
    void heading(const std::string& text) { add(ReportBlockKind::Heading, escaped(text)); }
    void text(const std::string& html) { add(ReportBlockKind::Text, html); }
    ReportBlock& table(std::vector<std::string> head, std::vector<double> widths)
    {
        ReportBlock& block = add(ReportBlockKind::Table, {});
        block.head = std::move(head);
        block.widths = std::move(widths);
        return block;
    }

    void state()
    {
        if (m_e.signed_off) {
            text("<b>Signed off.</b>");
            return;
        }
        text("<b style='color:#b4261b'>Not signed off.</b>");
        if (m_e.blocks.empty())
            return;
        heading("Open points");
        std::string list;
        for (const std::string& block : m_e.blocks)
            list += "▸ " + escaped(block) + "<br>";
        text(list);
    }

    void need()
    {
        heading("Need");
        text(escaped(m_e.need_line));
        if (!m_job.need.why.empty())
            text(escaped(m_job.need.why));
        if (!m_job.need.must_not_change.empty())
            text("Must not change: " + escaped(m_job.need.must_not_change));
        heading("Found");
        std::string words = escaped(m_job.found.name.empty() ? "supply" : m_job.found.name) + ": " +
                            escaped(phrase(m_job.found.topology));
        if (m_e.divider)
            words += ", reference " + escaped(significant(m_e.divider->reference.v_ref_v, 4)) +
                     " V, divider " + escaped(formatOhms(m_e.divider->top.ohm())) + " over " +
                     escaped(formatOhms(m_e.divider->bottom.ohm())) + ", " +
                     escaped(formatPercent(m_e.divider->found_tolerance));
        text(words + ".");
    }

    void path()
    {
        heading("The path of the energy");
        ReportBlock& t =
            table({"station", "found", "planned", "measured", "worst"}, {0.28, 0.18, 0.18, 0.18, 0.18});
        for (const StationView& s : stationsShown(m_job, m_e))
            t.rows.push_back({.cells = {{escaped(s.name)},
                                        {found(orDash(s.found))},
                                        {planned(orDash(s.planned))},
                                        {measured(orDash(s.measured))},
                                        {s.has_rows ? verdictMark(s.verdict) : escaped(s.reason)}},
                              .data = {{"station", std::string(word(s.station))}}});
        for (std::size_t i = 1; i < m_e.rails.size(); ++i) {
            const RailView& r = m_e.rails[i];
            t.rows.push_back({.cells = {{"rail " + escaped(r.name)},
                                        {found(orDash(r.found))},
                                        {planned(orDash(r.planned))},
                                        {measured(orDash(r.measured))},
                                        {r.has_rows ? verdictMark(r.verdict) : ""}}});
        }
    }

    void change()
    {
        heading("Change");
        if (!changesAnything(m_job)) {
            text("Nothing is planned.");
            return;
        }
        std::string list;
        for (const std::string& line : plannedChanges(m_job))
            list += "▸ " + escaped(line) + "<br>";
        text(list);
        if (const std::string ruler = rulerSvg(m_job, m_e); !ruler.empty())
            add(ReportBlockKind::Drawing, ruler);
        for (const ReportPicture& picture : planPictures(m_job, m_e, m_run)) {
            text("<b>" + escaped(picture.title) + "</b>");
            add(ReportBlockKind::Drawing, picture.svg).data = {{"picture", picture.title}};
        }
        for (const Connections& c : plannedConnections(m_job, m_e))
            drawing(c);
        if (m_e.planned) {
            const DividerOption& o = m_e.planned->option;
            text("Gives " + escaped(volts(o.v)) + ", worst case " + escaped(fixed(o.worst_min_v, 2)) +
                 " to " + escaped(fixed(o.worst_max_v, 2)) + " V. If the added joint opens: " +
                 escaped(o.if_open.v ? volts(*o.if_open.v) : std::string("no regulation, it runs away")) +
                 ".");
        }
        for (const Acceptance& a : m_job.plan.accepted)
            text("Accepted: " + escaped(a.part.empty() ? std::string(rowInfo(a.row).part) : a.part) +
                 ". Reason: " + escaped(a.reason));
    }

    void drawing(const Connections& c)
    {
        const std::string name = capitalized(c.name);
        text("<b>" + escaped(name) + "</b>. " + escaped(c.sentence));
        ReportBlock& picture = add(ReportBlockKind::Drawing, wiringSvg(c));
        picture.data = {{"connections", c.name}};
        ReportBlock& t = table({"part", "from", "to", "value", ""}, {0.26, 0.24, 0.24, 0.14, 0.12});
        for (const ConnectedPart& p : c.parts) {
            const std::string fate = p.fate == PartFate::Added      ? "new"
                                     : p.fate == PartFate::TakenOut ? "out"
                                                                    : "stays";
            ReportRow row{.cells = {{escaped(p.name)},
                                    {escaped(p.from)},
                                    {escaped(p.to)},
                                    {escaped(Connections::valueText(p))},
                                    {fate}},
                          .data = {{"drawing", c.name},
                                   {"part", p.name},
                                   {"kind", std::string(word(p.kind))},
                                   {"from", p.from},
                                   {"to", p.to},
                                   {"fate", std::string(word(p.fate))}}};
            if (p.value)
                row.data.emplace_back("value", plainNumber(*p.value));
            t.rows.push_back(std::move(row));
        }
    }

    /// Every step with its cautions, windows, readings, verdicts, ticks and times, struck ones too.
    void steps()
    {
        static constexpr std::array<std::string_view, 6> stages{"Need",   "Found",    "Plan",
                                                                "Change", "Bring-up", "Sign-off"};
        heading("The work, step by step");
        std::optional<Stage> stage;
        std::vector<Caution> said;
        ReportBlock* t = nullptr;
        for (const StepView& view : m_e.steps) {
            if (stage != view.step.stage) {
                stage = view.step.stage;
                said.clear();
                text("<b>" + std::string(stages.at(static_cast<std::size_t>(*stage))) + "</b>");
                t = &table({"step", "readings", "done"}, {0.52, 0.32, 0.16});
            }
            t->rows.push_back(stepRow(view, said));
        }
    }

    ReportRow stepRow(const StepView& view, std::vector<Caution>& said) const
    {
        const Step& step = view.step;
        ReportRow row{.cells = {}, .data = {{"step", step.id}, {"kind", std::string(word(step.kind))}}};
        std::string does;
        for (const Does what : step.does)
            does += (does.empty() ? "" : " ") + std::string(word(what));
        row.data.emplace_back("does", does);
        if (step.through)
            row.data.emplace_back("through", std::string(word(*step.through)));
        std::string words = "<b>" + escaped(step.title) + "</b>";
        if (!step.detail.empty())
            words += "<br>" + escaped(step.detail);
        for (const Caution caution : step.cautions) {
            const bool again = std::ranges::count(said, caution) > 0;
            words += "<br><i>▲ " +
                     escaped(again ? shortCaution(caution) : std::string(cautionText(caution))) + "</i>";
            if (!again)
                said.push_back(caution);
        }
        row.cells.push_back({words});
        std::string readings;
        for (std::size_t i = 0; i < step.asks.size(); ++i)
            readings += readingHtml(view, i);
        readings += otherReadingsHtml(view);
        row.cells.push_back({readings});
        const std::string_view state = view.status == StepStatus::Done    ? "done"
                                       : view.status == StepStatus::Again ? "again"
                                                                          : "open";
        const LogEntry* tick = newestTick(m_job, step.id);
        row.cells.push_back(
            {tick != nullptr ? std::string(view.status == StepStatus::Again ? "to do again, was " : "✓ ") +
                                   when(tick->time_s)
                             : std::string(state)});
        row.data.emplace_back("state", std::string(state));
        return row;
    }

    /// The first sentence, where the whole was said before in the stage.
    static std::string shortCaution(Caution caution)
    {
        const std::string_view words = cautionText(caution);
        const std::size_t end = words.find_first_of(".;");
        return std::string(words.substr(0, end)) + ".";
    }

    std::string readingHtml(const StepView& view, std::size_t i) const
    {
        const Asked& asked = view.step.asks[i];
        std::string html = "<span data-ask='" + escaped(asked.name()) + "' data-quantity='" +
                           std::string(word(asked.quantity)) + "'";
        if (asked.window && asked.window->min)
            html += " data-min='" + plainNumber(*asked.window->min) + "'";
        if (asked.window && asked.window->max)
            html += " data-max='" + plainNumber(*asked.window->max) + "'";
        if (asked.load_a)
            html += " data-load='" + plainNumber(*asked.load_a) + "'";
        html += ">" + escaped(asked.name());
        if (asked.load_a)
            html += " at " + escaped(formatValue(*asked.load_a, Quantity::Current));
        html += "</span>";
        if (asked.window)
            html += " " + planned(escaped(windowWords(asked)));
        if (const auto& taken = view.readings.at(i))
            html += "<br><span data-reading='" + escaped(taken->id) + "' data-value='" +
                    plainNumber(taken->value) + "'>" +
                    measured(escaped(shown(taken->value, taken->quantity)) + " ± " +
                             escaped(formatValue(taken->u, taken->quantity, 2))) +
                    (asked.window ? " " + verdictMark(taken->judgement.verdict) : "") + "</span>";
        return html + "<br>";
    }

    /// Readings of the step that a later one took the place of, and struck ones.
    std::string otherReadingsHtml(const StepView& view) const
    {
        std::string html;
        for (const LogEntry& entry : m_job.log) {
            const bool shown_above = std::ranges::any_of(
                view.readings, [&](const auto& taken) { return taken && taken->id == entry.id; });
            if (entry.kind != LogKind::Reading || entry.step != view.step.id || shown_above)
                continue;
            const std::string words =
                escaped(*entry.point) + " " + escaped(shown(*entry.value, *entry.quantity));
            html += "<span data-reading='" + escaped(entry.id) + "'>" +
                    (m_struck.contains(entry.id) ? "<s>" + words + "</s> struck" : "earlier: " + words) +
                    "</span><br>";
        }
        return html;
    }

    void comparison()
    {
        heading("Before and after");
        m_report.blocks.push_back(comparisonTable(m_e));
        if (ReportBlock units = unitsTable(m_job, m_e); units.head.size() > 4) {
            heading("Unit beside unit");
            m_report.blocks.push_back(std::move(units));
        }
    }

    void readouts()
    {
        bool any = false;
        for (const ReadoutPlace& place : readoutPlaces(m_job)) {
            const ReadoutView view = readoutView(m_job, place);
            if (!view.result)
                continue;
            if (!any)
                heading("Readouts");
            any = true;
            std::string words = escaped(view.sentence);
            for (const std::string& assumed : view.assumed)
                words += " Assumed: " + escaped(assumed) + ".";
            text(words);
            ReportBlock& t = table({"shown", "true", "off by", "claimed", ""}, {0.22, 0.3, 0.2, 0.14, 0.14});
            const auto shows = [&](double v) { return escaped(readoutValue(v, view.readout.shows)); };
            for (const CheckedPoint& point : view.result->points)
                t.rows.push_back({.cells = {{shows(point.shown)},
                                            {shows(point.truth) + " ± " + shows(point.u_truth)},
                                            {shows(point.error)},
                                            {point.allowed ? shows(*point.allowed) : "–"},
                                            {point.allowed ? verdictMark(point.verdict) : ""}}});
        }
    }

    void captures()
    {
        const CapturesView view = capturesView(m_job);
        if (!view.all.empty())
            heading("What the oscilloscope saw");
        for (const ComparedCaptures& compared : view.all) {
            std::string words;
            for (const std::string& doubt : compared.doubts)
                words += "◆ " + escaped(doubt) + "<br>";
            words += escaped(compared.sentence);
            for (const std::string& remark : compared.remarks)
                words += " " + escaped(remark);
            text(words);
            ReportBlock& t = table({"", compared.before ? compared.before->title : "before",
                                    compared.after ? compared.after->title : "after"},
                                   {0.4, 0.3, 0.3});
            for (const CaptureRow& row : captureRows(compared)) {
                const auto cell = [&](const std::optional<double>& v) {
                    return ReportCell{v ? escaped(formatValue(*v, row.quantity, 3)) : "–"};
                };
                t.rows.push_back({.cells = {{escaped(row.name)}, cell(row.before), cell(row.after)}});
            }
            add(ReportBlockKind::Drawing, captureSvg(compared));
        }
    }

    void consequences()
    {
        heading("What it drags along");
        ReportBlock& t = table({"part", "planned, of its limit", "verdict", "how it is worked out"},
                               {0.24, 0.2, 0.14, 0.42});
        for (const ConsequenceRow& r : m_e.consequences.rows) {
            const auto unit = rowInfo(r.id).unit;
            const auto figure = [&](double v) { return unit ? formatValue(v, *unit) : significant(v, 3); };
            std::string numbers = r.planned ? figure(*r.planned) : "";
            if (r.planned && r.limit)
                numbers += " of " + figure(*r.limit);
            else if (r.planned)
                numbers += ", limit not read";
            std::string working = escaped(r.formula);
            if (!r.working.empty())
                working += "<br>= " + escaped(r.working);
            for (const std::string& assumed : r.assumed)
                working += "<br>assumed: " + escaped(assumed);
            const bool other = !r.rail.empty() && r.rail != m_job.found.rails.front().name;
            t.rows.push_back(
                {.cells = {{escaped((other ? r.rail + " · " : std::string()) + r.part + ", " + r.quantity)},
                           {escaped(numbers)},
                           {verdictMark(r.verdict)},
                           {working}},
                 .data = {{"row", std::string(word(r.id))}}});
        }
    }

    void parts()
    {
        heading("Parts used, and to be got");
        ReportBlock& t = table({"part", "where", "in place of", ""}, {0.4, 0.28, 0.18, 0.14});
        for (const PartLine& line : partsOf(m_job, m_e))
            t.rows.push_back({.cells = {{escaped(line.name)},
                                        {escaped(line.where)},
                                        {escaped(line.replaces)},
                                        {line.tool     ? "tool"
                                         : line.to_get ? "to get"
                                                       : "from the drawer"}},
                              .data = {{"used", line.name}}});
    }

    void notes()
    {
        std::string list;
        for (const LogEntry& entry : m_job.log)
            if (entry.kind == LogKind::Note && entry.text)
                list += escaped(when(entry.time_s)) + " " +
                        (m_struck.contains(entry.id) ? "<s>" + escaped(*entry.text) + "</s>"
                                                     : escaped(*entry.text)) +
                        "<br>";
        if (!list.empty()) {
            heading("Notes");
            text(list);
        }
        bool any = false;
        for (const LogEntry& entry : m_job.log) {
            if (entry.kind != LogKind::Photo || !entry.text || m_struck.contains(entry.id))
                continue;
            if (!any)
                heading("Photographs");
            any = true;
            std::string caption = escaped(when(entry.time_s)) + " " + escaped(*entry.text);
            const auto pins = pinsOn(m_job, *entry.text);
            for (std::size_t i = 0; i < pins.size(); ++i)
                caption += (i == 0 ? ": " : ", ") + std::to_string(i + 1) + " " + escaped(pins[i].name);
            text(caption);
            add(ReportBlockKind::Picture, *entry.text);
        }
        loose();
    }

    /// Readings that answer no step.
    void loose()
    {
        ReportBlock t{.kind = ReportBlockKind::Table,
                      .html = {},
                      .head = {"time", "point", "value", "load", "stage"},
                      .rows = {},
                      .widths = {0.24, 0.2, 0.24, 0.16, 0.16},
                      .data = {}};
        static constexpr std::array<std::string_view, 3> stages{"found", "planned check", "measured"};
        for (const LogEntry& entry : m_job.log) {
            if (entry.kind != LogKind::Reading || entry.step)
                continue;
            std::string value = escaped(shown(*entry.value, *entry.quantity));
            if (entry.uncertainty)
                value += " ± " + escaped(formatValue(*entry.uncertainty, *entry.quantity, 2));
            if (m_struck.contains(entry.id))
                value = "<s>" + value + "</s> struck";
            t.rows.push_back(
                {.cells = {{when(entry.time_s)},
                           {escaped(*entry.point + (entry.unit ? " #" + *entry.unit : ""))},
                           {value},
                           {entry.load ? escaped(shown(entry.load->value, entry.load->quantity)) : ""},
                           {entry.stage ? std::string(stages.at(static_cast<std::size_t>(*entry.stage)))
                                        : ""}},
                 .data = {{"reading", entry.id}}});
        }
        if (t.rows.empty())
            return;
        heading("Further readings");
        m_report.blocks.push_back(std::move(t));
    }

    const Job& m_job;
    const Evaluation& m_e;
    const ChainRun* m_run;
    std::set<std::string> m_struck;
    Report m_report;
};

} // namespace

std::string windowWords(const Asked& asked)
{
    if (!asked.window)
        return {};
    const auto show = [&](double v) {
        if (asked.quantity == Quantity::Resistance)
            return v < 10 ? formatValue(v, asked.quantity, 3) : formatOhms(std::round(v));
        return asked.quantity == Quantity::Voltage ? formatVolts(v) : formatValue(v, asked.quantity, 3);
    };
    const auto& [min, max] = *asked.window;
    if (min && max && asked.quantity == Quantity::Voltage)
        return fixed(*min, 2) + " to " + fixed(*max, 2) + " V";
    if (min && max)
        return show(*min) + " to " + show(*max);
    return max ? "below " + show(*max) : min ? "above " + show(*min) : std::string();
}

ReportBlock comparisonTable(const Evaluation& evaluation)
{
    ReportBlock t{.kind = ReportBlockKind::Table,
                  .html = {},
                  .head = {"", "found", "planned", "measured", "", "difference"},
                  .rows = {},
                  .widths = {0.2, 0.16, 0.2, 0.16, 0.1, 0.18},
                  .data = {}};
    const auto figure = [](const std::optional<double>& v, const std::optional<double>& u,
                           Quantity quantity) {
        if (!v)
            return std::string("–");
        std::string text =
            escaped(shown(*v, quantity)) + " ± " + escaped(formatValue(u.value_or(0), quantity, 2));
        for (std::size_t at = text.find(' '); at != std::string::npos; at = text.find(' ', at))
            text.replace(at, 1, "&nbsp;"); // a figure and its doubt stand in one line
        return text;
    };
    for (const BeforeAfter& row : beforeAfter(evaluation)) {
        Asked asked{row.name, row.quantity, row.planned, {}, {}};
        std::string difference;
        if (row.difference)
            difference = row.is == DifferenceVerdict::Real
                             ? "changed by " + escaped(shown(*row.difference, row.quantity))
                             : "no difference beyond the meter";
        t.rows.push_back({.cells = {{escaped(row.name)},
                                    {found(figure(row.found, row.found_u, row.quantity))},
                                    {planned(row.planned ? escaped(windowWords(asked)) : "–")},
                                    {measured(figure(row.measured, row.measured_u, row.quantity))},
                                    {row.verdict && row.planned ? verdictMark(*row.verdict) : ""},
                                    {difference}}});
    }
    return t;
}

ReportBlock unitsTable(const Job& job, const Evaluation& evaluation)
{
    const BatchView view = batchView(job, evaluation);
    ReportBlock t{
        .kind = ReportBlockKind::Table, .html = {}, .head = {""}, .rows = {}, .widths = {0.22}, .data = {}};
    const double share = 0.48 / static_cast<double>(std::max<std::size_t>(1, view.units.size()));
    for (const std::string& unit : view.units) {
        t.head.push_back("unit " + unit);
        t.widths.push_back(share);
    }
    t.head.insert(t.head.end(), {"spread", "window"});
    t.widths.insert(t.widths.end(), {0.12, 0.18});
    for (const BatchRow& r : view.rows) {
        ReportRow row{.cells = {{escaped(r.point + (r.load.empty() ? "" : " " + r.load))}}, .data = {}};
        for (std::size_t i = 0; i < r.values.size(); ++i)
            row.cells.push_back({r.values[i] ? escaped(shown(*r.values[i], r.quantity)) +
                                                   (r.window ? " " + verdictMark(r.verdicts[i]) : "") +
                                                   (r.out == i ? " <b>apart from the rest</b>" : "")
                                             : std::string("–")});
        row.cells.push_back({r.spread ? escaped(shown(*r.spread, r.quantity)) : "–"});
        row.cells.push_back(
            {r.window ? escaped(windowWords(Asked{r.point, r.quantity, r.window, {}, {}})) : "–"});
        t.rows.push_back(std::move(row));
    }
    return t;
}

Report reportOf(const Job& job, const Evaluation& evaluation, const ChainRun* run)
{
    return ReportMaker(job, evaluation, run).run();
}

Json jobReport(const Json& input)
{
    JobInput in = readJobInput(input);
    if (batchUnits(in.job) > 1)
        in.job = unitOfBatch(in.job, 1);
    const auto run = chainRunOf(in.job);
    const ChainRun* ran = run ? &*run : nullptr;
    return Json{{"html", reportHtml(reportOf(in.job, evaluate(in.job, in.now_s, ran), ran))}};
}

} // namespace offshoot
