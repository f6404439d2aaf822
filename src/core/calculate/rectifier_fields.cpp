// The documents of the rectifier simulation: what is read, which keys belong together, what is written.
#include "core/calculate/rectifier.h"

namespace offshoot {

void fields(Fields& f, RectifierInput& in)
{
    fields(f, in.chain);
    f.may("mode", in.mode);
    f.may("t_end_s", in.t_end_s, range::positive);
    f.may("points", in.points, 2, 5000);
    f.may("ratings", in.ratings);
    if (!f.reading())
        return;
    const bool start = in.mode == SimMode::Start;
    f.demand(start || !in.t_end_s, ErrorCode::Inconsistent, "t_end_s", "belongs to a start");
    f.demand(!start || in.t_end_s, ErrorCode::Missing, "t_end_s", "a start wants its end");
    f.demand(!start || !f.present("ratings"), ErrorCode::Inconsistent, "ratings",
             "belong to the steady state");
    constexpr double most_cycles = 2000;
    f.demand(!in.t_end_s || *in.t_end_s * in.chain.source.f_hz <= most_cycles * (1 + 1e-9),
             ErrorCode::OutOfRange, "t_end_s", "longer than 2000 cycles");
}

namespace {

void figureFields(Fields& f, SimFigures& v)
{
    f.need("v_mean_v", v.v_mean_v);
    f.need("v_max_v", v.v_max_v);
    f.need("v_min_v", v.v_min_v);
    f.need("ripple_pp_v", v.ripple_pp_v);
    f.need("ripple_rms_v", v.ripple_rms_v);
}

/// An index where it is one, else the word.
Json sectionJson(const std::string& section)
{
    return section == "upper" || section == "lower" ? Json(section) : Json(std::stoi(section));
}

void steadyFields(Fields& f, SteadyResult& out)
{
    f.need("load", out.load);
    f.need("nodes", out.nodes);
    f.need("diodes", out.diodes);
    f.need("series", out.series);
    f.need("source", out.source);
    f.need("diode_loss_w", out.diode_loss_w);
    f.need("no_load_v", out.no_load_v);
    f.may("i_hot_a", out.i_hot_a);
    f.need("verdicts", out.verdicts);
    f.need("unread", out.unread);
    f.need("verdict", out.verdict);
    if (out.waveforms)
        f.need("waveforms", *out.waveforms);
}

void startFields(Fields& f, StartResult& out)
{
    f.need("start", out.start);
    f.need("nodes", out.nodes);
    f.need("no_load_v", out.no_load_v);
    if (out.waveforms)
        f.need("waveforms", *out.waveforms);
}

} // namespace

void fields(Fields& f, SimLoadFigures& out)
{
    figureFields(f, out.v);
    f.need("i_mean_a", out.i_mean_a);
    f.need("power_w", out.power_w);
    f.need("collapsed", out.collapsed);
}

void fields(Fields& f, SimNode& out)
{
    f.write("section", sectionJson(out.section));
    figureFields(f, out.v);
    f.need("capacitor_i_rms_a", out.capacitor_i_rms_a);
}

void fields(Fields& f, SimDiodeFigures& out)
{
    f.need("name", out.name);
    f.need("i_peak_a", out.i_peak_a);
    f.need("i_rms_a", out.i_rms_a);
    f.need("i_mean_a", out.i_mean_a);
    f.need("conduction_rad", out.conduction_rad);
    f.need("v_reverse_peak_v", out.v_reverse_peak_v);
}

void fields(Fields& f, SimSeries& out)
{
    f.write("section", out.section);
    f.need("i_mean_a", out.i_mean_a);
    f.need("i_rms_a", out.i_rms_a);
    f.need("power_w", out.power_w);
}

void fields(Fields& f, SimSourceFigures& out)
{
    f.need("i_rms_a", out.i_rms_a);
    f.need("i_peak_a", out.i_peak_a);
    f.need("va", out.va);
    f.need("power_w", out.power_w);
    f.may("power_factor", out.power_factor);
    f.need("loss_w", out.loss_w);
}

void fields(Fields& f, SimVerdict& out)
{
    f.need("part", out.part);
    f.need("quantity", out.quantity);
    f.need("planned", out.planned);
    f.need("limit", out.limit);
    f.need("use", out.use);
    f.need("verdict", out.verdict);
}

void fields(Fields& f, SimUnread& out)
{
    f.need("part", out.part);
    f.need("quantity", out.quantity);
}

void fields(Fields& f, SimWaveforms& out)
{
    f.need("t_s", out.t_s, range::any, {0, 5000});
    f.need("v_load_v", out.v_load_v, range::any, {0, 5000});
    f.need("i_source_a", out.i_source_a, range::any, {0, 5000});
    f.need("v_source_v", out.v_source_v, range::any, {0, 5000});
}

void fields(Fields& f, StartSeries& out)
{
    f.write("section", out.section);
    f.need("energy_j", out.energy_j);
}

void fields(Fields& f, StartFigures& out)
{
    f.need("i_peak_a", out.i_peak_a);
    f.need("t_peak_s", out.t_peak_s);
    f.need("diode_i_peak_a", out.diode_i_peak_a);
    f.need("i2t_a2s", out.i2t_a2s);
    f.need("source_j", out.source_j);
    f.need("v_final_v", out.v_final_v);
    f.may("t95_s", out.t95_s);
    f.need("v_end_v", out.v_end_v);
    f.need("v_load_max_v", out.v_load_max_v);
    f.need("series", out.series);
}

void fields(Fields& f, StartNode& out)
{
    f.write("section", sectionJson(out.section));
    f.need("v_max_v", out.v_max_v);
}

void fields(Fields& f, RectifierResult& out)
{
    if (out.steady)
        steadyFields(f, *out.steady);
    if (out.start)
        startFields(f, *out.start);
}

void fields(Fields& f, DropperInput& in)
{
    fields(f, in.chain);
    f.need("place", in.place, 0, 15);
    f.may("node", in.node, 0, 15, "load");
    f.need("v_target_v", in.v_target_v, {1e-3, 1e5});
    f.may("power_rated_w", in.power_rated_w, range::positive);
    if (!f.reading())
        return;
    const auto kind_at = [&in](std::int64_t at) {
        return in.chain.filter[static_cast<std::size_t>(at)].kind;
    };
    const auto count = static_cast<std::int64_t>(in.chain.filter.size());
    f.demand(in.place < count, ErrorCode::OutOfRange, "place", "no such section");
    f.demand(kind_at(in.place) == SmoothingKind::R, ErrorCode::Inconsistent, "place", "is no resistor");
    f.demand(!in.node || *in.node < count, ErrorCode::OutOfRange, "node", "no such section");
    f.demand(!in.node || kind_at(*in.node) == SmoothingKind::C, ErrorCode::Inconsistent, "node",
             "is no capacitor");
}

void fields(Fields& f, DropperResult& out)
{
    f.need("r_ohm", out.r_ohm);
    f.need("v_v", out.v_v);
    f.need("i_rms_a", out.i_rms_a);
    f.need("power_w", out.power_w);
    f.need("power_verdict", out.power_verdict);
    f.need("load_v", out.load_v);
    f.need("load_ripple_pp_v", out.load_ripple_pp_v);
}

} // namespace offshoot
