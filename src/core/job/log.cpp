#include "core/job/log.h"

#include "core/values/format.h"

namespace offshoot {

std::optional<ReadingLoad> readLoad(std::string_view text)
{
    for (const Quantity quantity : {Quantity::Current, Quantity::Power, Quantity::Resistance})
        if (const auto value = parseValue(text, quantity); value && value->value >= 0)
            return ReadingLoad{value->value, quantity};
    return std::nullopt;
}

std::optional<double> loadAmps(const LogEntry& entry)
{
    if (!entry.load)
        return std::nullopt;
    switch (entry.load->quantity) {
    case Quantity::Current:
        return entry.load->value;
    case Quantity::Power:
        return *entry.value != 0 ? std::optional(entry.load->value / std::abs(*entry.value)) : std::nullopt;
    case Quantity::Resistance:
        return entry.load->value > 0 ? std::optional(std::abs(*entry.value) / entry.load->value)
                                     : std::nullopt;
    default:
        return std::nullopt;
    }
}

std::string loadText(const LogEntry& entry)
{
    return entry.load ? "@" + formatValue(entry.load->value, entry.load->quantity) : "";
}

void fields(Fields& f, ReadingLoad& value)
{
    f.need("value", value.value, range::not_negative);
    f.need("quantity", value.quantity);
}

void fields(Fields& f, KeptCapture& value)
{
    constexpr std::int64_t most_columns = 1000;
    f.need("file", value.file, any_text);
    f.may("from", value.from);
    f.may("column", value.column, 1, most_columns);
    f.may("scale", value.scale);
    f.may("time_scale", value.time_scale, range::positive);
    f.need("study", value.study);
}

void fields(Fields& f, KeptRecording& value)
{
    constexpr Lengths outline{0, 2000};
    constexpr std::int64_t most = 10000000;
    f.may("file", value.file);
    f.need("begun_s", value.begun_s);
    f.need("lasted_s", value.lasted_s, range::not_negative);
    f.need("count", value.count, 1, most);
    f.need("first", value.first);
    f.need("lowest", value.lowest);
    f.need("highest", value.highest);
    f.need("ended", value.ended);
    f.need("t_s", value.t_s, range::not_negative, outline);
    f.need("values", value.values, range::any, outline);
    f.demand(value.t_s.size() == value.values.size(), ErrorCode::Inconsistent, "values", "as many as t_s");
}

void fields(Fields& f, LogEntry& value)
{
    constexpr Lengths names{0, 1000};
    f.need("id", value.id);
    f.need("time_s", value.time_s);
    f.need("kind", value.kind);
    f.may("step", value.step);
    f.may("point", value.point);
    f.may("quantity", value.quantity);
    f.may("value", value.value);
    f.may("uncertainty", value.uncertainty, range::not_negative);
    f.may("load", value.load);
    f.may("unit", value.unit);
    f.may("stage", value.stage);
    f.may("isolation", value.isolation);
    f.may("meter", value.meter);
    f.may("typed", value.typed, any_text);
    f.may("imported", value.imported);
    f.may("text", value.text, any_text);
    f.may("lamp", value.lamp);
    f.may("capture", value.capture);
    f.may("recording", value.recording);
    f.may("by_words", value.by_words);
    if (f.mode() != Fields::Mode::Write || value.kind == LogKind::Model) {
        f.may("sources", value.sources, names);
        f.may("reservoirs", value.reservoirs, names);
    }
    const bool reading = value.kind == LogKind::Reading;
    f.demand(!reading || (value.point && value.value && value.quantity), ErrorCode::Missing, "value",
             "a reading has point, quantity and value");
}

} // namespace offshoot
