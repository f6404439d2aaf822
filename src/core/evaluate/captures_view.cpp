#include "core/evaluate/captures_view.h"

#include "core/evaluate/noise_view.h"
#include "core/job/readings.h"
#include "core/kinds/picture.h"
#include "core/kinds/surge_limiter/inrush_view.h"
#include "core/values/figures.h"

#include <algorithm>
#include <cmath>
#include <set>

namespace offshoot {

namespace {

std::string seconds(double t_s) { return formatValue(t_s, Quantity::Time); }
std::string hertz(double f_hz) { return formatValue(f_hz, Quantity::Frequency); }

/// Every capture of a point that was not struck, oldest first.
std::vector<const LogEntry*> capturesOf(const Job& job, CapturePoint point,
                                        const std::optional<std::string>& unit)
{
    const auto struck = struckIds(job.log);
    std::vector<const LogEntry*> all;
    for (const LogEntry& entry : job.log)
        if (entry.kind == LogKind::Reading && entry.capture && entry.point == word(point) &&
            entry.unit == unit && !struck.contains(entry.id))
            all.push_back(&entry);
    return all;
}

bool sameLoad(const LogEntry& a, const LogEntry& b)
{
    if (!a.load || !b.load)
        return !a.load && !b.load;
    return a.load->quantity == b.load->quantity && loadsAlike(a.load->value, b.load->value);
}

class View
{
public:
    View(const Job& job, ComparedCaptures& out)
        : m_job(job)
        , m_out(out)
    {}

    void fill()
    {
        pick();
        for (auto* seen : {&m_out.before, &m_out.after})
            if (*seen)
                look(**seen, seen == &m_out.before ? "Before" : "After");
        if (m_out.before && m_out.after)
            compare();
        say();
        if (m_out.point == CapturePoint::Surge)
            surge();
        else if (m_out.compared)
            filter();
    }

private:
    const CaptureStudy& study(const std::optional<CaptureSeen>& seen) const
    {
        return seen->entry.capture->study;
    }
    std::string value(double v) const { return captureValue(v, m_out.point); }

    /// The newest after the change, and beside it the newest before with the same load, else the newest.
    void pick()
    {
        const LogEntry* after = nullptr;
        const LogEntry* before = nullptr;
        const auto all = capturesOf(m_job, m_out.point, m_out.unit);
        for (const LogEntry* entry : all)
            if (entry->stage != ReadingStage::Found)
                after = entry;
        for (const LogEntry* entry : all)
            if (entry->stage == ReadingStage::Found &&
                (before == nullptr || after == nullptr || sameLoad(*entry, *after) ||
                 !sameLoad(*before, *after)))
                before = entry;
        const auto seen = [&](const LogEntry* entry, const std::string& when) {
            return CaptureSeen{.entry = *entry,
                               .title = when + (entry->load ? ", at " + formatValue(entry->load->value,
                                                                                    entry->load->quantity)
                                                            : "")};
        };
        if (before != nullptr)
            m_out.before = seen(before, "before");
        if (after != nullptr)
            m_out.after = seen(after, "after");
        m_out.limit = m_out.point == CapturePoint::Surge ? m_job.found.mains_side.surge.breaker_trip_a
                                                         : m_job.need.ripple_max_v;
    }

    void look(CaptureSeen& seen, const std::string& when)
    {
        const CaptureStudy& s = seen.entry.capture->study;
        seen.lines = namedLines(s);
        if (s.clipped())
            m_out.doubts.push_back(when + ": clipped, so it is larger than " + value(*seen.entry.value) +
                                   ". Take it again with more to the division; it answers no step.");
        if (s.saw.coarse)
            m_out.doubts.push_back(when + ": sampled too coarsely, every " + seconds(s.saw.dt_s) +
                                   ": what is faster may be missed. Take it again with a shorter time base; "
                                   "it answers no step.");
        if (m_out.point == CapturePoint::Ripple && s.mains_hz && s.saw.duration_s < 1 / *s.mains_hz)
            m_out.doubts.push_back(when + ": " + seconds(s.saw.duration_s) +
                                   " are less than a cycle of the mains: what comes from the mains is not in "
                                   "it.");
        if (!s.doubtful() && m_out.limit)
            seen.verdict = judgeUse(*seen.entry.value / *m_out.limit);
    }

    void compare()
    {
        m_out.compared = comparedCaptures(study(m_out.before).saw, study(m_out.after).saw);
        const LogEntry& before = m_out.before->entry;
        const LogEntry& after = m_out.after->entry;
        const auto load = [](const LogEntry& e) {
            return e.load ? formatValue(e.load->value, e.load->quantity) : std::string("no load said");
        };
        if (!sameLoad(before, after))
            m_out.doubts.push_back("Not with the same load: " + load(before) + " before, " + load(after) +
                                   " after. Take one of them again.");
        if (!m_out.compared->comparable)
            m_out.doubts.push_back("Not sampled alike: every " + seconds(study(m_out.before).saw.dt_s) +
                                   " for " + seconds(study(m_out.before).saw.duration_s) + " before, every " +
                                   seconds(study(m_out.after).saw.dt_s) + " for " +
                                   seconds(study(m_out.after).saw.duration_s) + " after.");
    }

    void say()
    {
        const std::string what = m_out.point == CapturePoint::Surge ? "Surge " : "Ripple ";
        const std::string how = m_out.point == CapturePoint::Surge ? "" : " peak to peak";
        const std::string of = m_out.unit ? "Unit " + *m_out.unit + ": " : "";
        if (!m_out.after) {
            m_out.sentence = of + what + value(*m_out.before->entry.value) + how +
                             " as found. Capture it again after the change" +
                             (m_out.point == CapturePoint::Surge ? "." : ", with the same load.");
            return;
        }
        const double after = *m_out.after->entry.value;
        m_out.sentence = of + what + value(after) + how + " after the change";
        if (!m_out.before) {
            m_out.sentence += "; nothing was captured before it.";
            return;
        }
        const double before = *m_out.before->entry.value;
        m_out.sentence += ", " + value(before) + " before: ";
        const bool same = std::abs(after - before) <= 2 * scope_share * std::max(after, before);
        if (same)
            m_out.sentence += "no difference that an oscilloscope can tell.";
        else if (before > 0 && after > 0)
            m_out.sentence += significant(std::abs(20 * std::log10(after / before)), 2) + " dB " +
                              (after < before ? "less." : "more.");
        else
            m_out.sentence += after < before ? "it is gone." : "it is new.";
        if (m_out.point == CapturePoint::Ripple)
            sayLines(same);
    }

    /// The line that changed most, and the largest that was not there.
    void sayLines(bool same)
    {
        const CaptureStudy& before = study(m_out.before);
        const CaptureStudy& after = study(m_out.after);
        const double wide_hz = 2 / std::min(before.saw.duration_s, after.saw.duration_s);
        const auto nearest = [&](const std::vector<NamedLine>& lines, double f_hz) -> const NamedLine* {
            const auto at = std::ranges::find_if(
                lines, [&](const NamedLine& l) { return std::abs(l.line.f_hz - f_hz) <= wide_hz; });
            return at == lines.end() ? nullptr : &*at;
        };
        const NamedLine* most = nullptr;
        double change = 0;
        for (const NamedLine& line : m_out.before->lines)
            if (const NamedLine* now = nearest(m_out.after->lines, line.line.f_hz);
                now != nullptr && std::abs(now->line.amplitude - line.line.amplitude) > change) {
                most = &line;
                change = std::abs(now->line.amplitude - line.line.amplitude);
            }
        if (most != nullptr && change > 2 * scope_share * most->line.amplitude)
            m_out.sentence += (same ? " Within it " : " Most of that: ") + lineWords(*most, before) +
                              (same ? " went from " : ", from ") + value(2 * most->line.amplitude) + " to " +
                              value(2 * nearest(m_out.after->lines, most->line.f_hz)->line.amplitude) + ".";
        constexpr double counts = 0.1; // of the ripple
        for (const NamedLine& line : m_out.after->lines)
            if (nearest(m_out.before->lines, line.line.f_hz) == nullptr &&
                2 * line.line.amplitude > counts * after.saw.pp) {
                m_out.sentence +=
                    " New: " + lineWords(line, after) + ", " + value(2 * line.line.amplitude) + ".";
                break;
            }
    }

    /// The planned filter's promise beside what it did.
    void filter()
    {
        const NoiseView noise = noiseView(m_job);
        const auto& hz = m_job.found.mains_side.noise_hz;
        if (!noise.result || !hz || noise.result->ripple.empty() || !noise.result->ripple.front().out_pp_v)
            return;
        const FilteredRipple& at = noise.result->ripple.front();
        const double promised_db = 20 * std::log10(*at.out_pp_v / at.in_pp_v);
        const auto line = [](const CaptureSeen& seen) -> const NamedLine* {
            const auto it = std::ranges::find_if(
                seen.lines, [](const NamedLine& l) { return l.of == LineOf::Switching && l.harmonic == 1; });
            return it == seen.lines.end() ? nullptr : &*it;
        };
        const NamedLine* before = line(*m_out.before);
        const NamedLine* after = line(*m_out.after);
        std::string text = "Noise says that the filter takes " + significant(-promised_db, 2) + " dB at " +
                           hertz(*hz) + "; ";
        if (before == nullptr)
            text += "that line was not among the largest before.";
        else if (after == nullptr)
            text += "after it that line is among the largest no more.";
        else
            text += significant(-20 * std::log10(after->line.amplitude / before->line.amplitude), 2) +
                    " dB were measured.";
        m_out.remarks.push_back(std::move(text));
    }

    void surge()
    {
        const SwitchOn& part = m_job.found.mains_side.surge;
        const CaptureSeen& now = m_out.after ? *m_out.after : *m_out.before;
        const SurgeFigures& seen = *now.entry.capture->study.surge;
        m_out.remarks.push_back(seen.decay_s
                                    ? "Its peak is down to a third after " + seconds(*seen.decay_s) + "."
                                    : "It does not fall to a third of its peak within the capture.");
        const InrushView view = inrushView(m_job);
        if (view.direct) {
            const bool limited = m_out.after && view.limiter && m_job.plan.limiter;
            const double crest = limited ? view.limiter->i_peak_a : view.direct->i_peak_a;
            m_out.remarks.push_back("Simulated at the crest of the highest mains: " + amps(crest) +
                                    (limited ? " through the surge limiter." : " as found.") +
                                    " A capture is switched on anywhere in the cycle: the largest of ten "
                                    "counts.");
        }
        if (part.breaker_trip_a && now.verdict)
            m_out.remarks.push_back("The breaker trips at " + amps(*part.breaker_trip_a) + ": " +
                                    significant(seen.peak / *part.breaker_trip_a * 100, 2) +
                                    (*now.verdict == Verdict::Breaks  ? " % of that, it will trip."
                                     : *now.verdict == Verdict::Tight ? " % of that, it may trip."
                                                                      : " % of that, it stays in."));
        if (part.fuse_i2t_a2s)
            m_out.remarks.push_back(
                "Through the fuse went " + formatValue(seen.square_time, Quantity::SquaredCurrentTime) +
                " of the " + formatValue(*part.fuse_i2t_a2s, Quantity::SquaredCurrentTime) + " it bears.");
    }

    const Job& m_job;
    ComparedCaptures& m_out;
};

} // namespace

CapturesView capturesView(const Job& job)
{
    CapturesView view;
    std::set<std::optional<std::string>> units;
    for (const LogEntry& entry : job.log)
        if (entry.capture)
            units.insert(entry.unit);
    for (const CapturePoint point : {CapturePoint::Ripple, CapturePoint::Surge})
        for (const auto& unit : units) {
            ComparedCaptures compared{.point = point, .unit = unit};
            if (capturesOf(job, point, unit).empty())
                continue;
            View(job, compared).fill();
            view.all.push_back(std::move(compared));
        }
    view.sentence = view.all.empty()
                        ? "Drop a file of the oscilloscope here, or log it: capture FILE ripple @2A."
                        : view.all.front().sentence;
    return view;
}

std::vector<CaptureRow> captureRows(const ComparedCaptures& compared)
{
    std::vector<CaptureRow> rows;
    const auto add = [&](const std::string& name, Quantity quantity, const auto& figure) {
        CaptureRow row{.name = name, .quantity = quantity};
        if (compared.before)
            row.before = figure(compared.before->entry);
        if (compared.after)
            row.after = figure(compared.after->entry);
        rows.push_back(std::move(row));
    };
    const Quantity quantity = captureQuantity(compared.point);
    const auto study = [](const LogEntry& e) -> const CaptureStudy& { return e.capture->study; };
    if (compared.point == CapturePoint::Surge) {
        add("peak", quantity, [](const LogEntry& e) { return e.value; });
        add("down to a third after", Quantity::Time,
            [&](const LogEntry& e) { return study(e).surge->decay_s; });
        add("through a fuse", Quantity::SquaredCurrentTime,
            [&](const LogEntry& e) { return std::optional(study(e).surge->square_time); });
        return rows;
    }
    add("peak to peak", quantity, [](const LogEntry& e) { return e.value; });
    add("without rare spikes", quantity,
        [&](const LogEntry& e) { return std::optional(study(e).saw.pp_98); });
    add("effective", quantity, [&](const LogEntry& e) { return std::optional(study(e).saw.ripple_rms); });
    const std::pair<const char*, double RippleParts::*> parts[] = {{"of it mains", &RippleParts::mains},
                                                                   {"switching", &RippleParts::switching},
                                                                   {"wander", &RippleParts::wander},
                                                                   {"the rest", &RippleParts::rest}};
    for (const auto& [name, member] : parts)
        add(name, quantity,
            [&, part = member](const LogEntry& e) { return std::optional(study(e).parts.*part); });
    return rows;
}

double captureMiddle(const CaptureStudy& study)
{
    if (study.surge)
        return 0;
    return (std::ranges::max(study.outline.high) + std::ranges::min(study.outline.low)) / 2;
}

double captureZero(const CaptureStudy& study) { return study.surge ? study.surge->at_s : 0; }

std::string captureSvg(const ComparedCaptures& compared)
{
    // Both in the columns of the one that ends first.
    double from_s = -Range::largest;
    double to_s = Range::largest;
    std::size_t columns = 2;
    for (const auto* seen : {&compared.before, &compared.after})
        if (*seen) {
            const CaptureStudy& study = (*seen)->entry.capture->study;
            from_s = std::max(from_s, -captureZero(study));
            to_s = std::min(to_s, study.saw.duration_s - captureZero(study));
            columns = std::max(columns, study.outline.low.size());
        }
    std::vector<double> ms;
    for (std::size_t i = 0; i < columns; ++i)
        ms.push_back(1e3 *
                     (from_s + (to_s - from_s) * static_cast<double>(i) / static_cast<double>(columns)));
    std::vector<Curve> curves;
    const auto add = [&](const std::optional<CaptureSeen>& seen, const std::string& name, bool dashed) {
        if (!seen)
            return;
        const CaptureStudy& study = seen->entry.capture->study;
        Curve curve{.name = name, .y = {}, .dashed = dashed};
        for (const double t_ms : ms) {
            const double at = (t_ms * 1e-3 + captureZero(study)) / study.outline.step_s;
            const std::size_t column =
                std::min(static_cast<std::size_t>(std::max(at, 0.0)), study.outline.low.size() - 1);
            curve.y.push_back(study.outline.low[column] - captureMiddle(study));
            curve.high.push_back(study.outline.high[column] - captureMiddle(study));
        }
        curves.push_back(std::move(curve));
    };
    add(compared.before, "before", true);
    add(compared.after, "after", false);
    if (compared.limit) {
        const double most = compared.point == CapturePoint::Surge ? *compared.limit : *compared.limit / 2;
        curves.push_back({.name = "limit", .y = std::vector<double>(columns, most), .dashed = true});
        if (compared.point == CapturePoint::Ripple)
            curves.push_back({.name = {}, .y = std::vector<double>(columns, -most), .dashed = true});
    }
    return curvesSvg(ms, curves, "milliseconds", compared.point == CapturePoint::Surge ? "A" : "V");
}

std::string lineWords(const NamedLine& line, const CaptureStudy& study)
{
    const std::string at = hertz(line.line.f_hz);
    const std::string times = line.harmonic > 1 ? " ×" + std::to_string(line.harmonic) : "";
    switch (line.of) {
    case LineOf::Mains:
        return at + " (mains" + times + ")";
    case LineOf::Switching:
        return at + (study.switching_seen ? " (switching, it seems" : " (switching") + times + ")";
    case LineOf::Other:
        return at;
    }
    return at;
}

std::string captureValue(double value, CapturePoint point)
{
    return formatValue(value, captureQuantity(point), 3);
}

} // namespace offshoot
