#include "core/job/front.h"

namespace offshoot {

namespace {

template <class Shaped>
void shapeFields(Fields& f, Shaped& value)
{
    f.may("d_m", value.d_m, range::positive);
    f.may("dx_m", value.dx_m, range::positive);
    f.may("dy_m", value.dy_m, range::positive);
    f.demand(value.dx_m.has_value() == value.dy_m.has_value(), ErrorCode::Inconsistent, "dx_m",
             "a cut-out has two sides, or a diameter");
    f.demand(!(value.d_m && value.dx_m), ErrorCode::Inconsistent, "d_m",
             "a cut-out is round or has two sides");
}

} // namespace

void fields(Fields& f, PanelItem& value)
{
    f.need("name", value.name, name_length);
    f.need("kind", value.kind);
    f.need("x_m", value.x_m);
    f.need("y_m", value.y_m);
    f.may("serves", value.serves);
    f.may("returns", value.returns);
    f.may("mains", value.mains);
    shapeFields(f, value);
    f.may("letters", value.letters);
}

void fields(Fields& f, PanelHole& value)
{
    f.need("x_m", value.x_m);
    f.need("y_m", value.y_m);
    shapeFields(f, value);
    f.oneOf({"d_m", "dx_m"});
    f.may("covered", value.covered);
}

void fields(Fields& f, PanelPlan& value)
{
    f.need("width_m", value.width_m, range::positive);
    f.need("height_m", value.height_m, range::positive);
    f.may("thick_m", value.thick_m, range::positive);
    f.may("metal", value.metal);
    f.may("fresh", value.fresh);
    f.may("items", value.items, Lengths{0, 60});
    f.may("holes", value.holes, Lengths{0, 60});
    f.demandUniqueNames("items", value.items);
}

void fields(Fields& f, BroughtOut& value)
{
    constexpr std::int64_t most_turns = 40;
    f.need("name", value.name, name_length);
    f.need("sets", value.sets);
    f.need("wiring", value.wiring);
    f.need("ohm", value.ohm, range::positive);
    f.may("turns", value.turns, 1, most_turns);
    f.may("wire_m", value.wire_m, range::not_negative);
    f.may("twisted", value.twisted);
    f.may("reference_v", value.reference_v, range::positive);
    f.may("other_ohm", value.other_ohm, range::positive);
    f.may("guard_ohm", value.guard_ohm, range::positive);
}

void fields(Fields& f, Spacer& value)
{
    f.need("name", value.name, name_length);
    f.may("carries", value.carries);
    f.may("current_a", value.current_a, range::not_negative);
    f.may("area_m2", value.area_m2, range::positive);
    f.may("insulated", value.insulated);
}

HeldReadout heldReadout(const FrontReadout& front)
{
    return {.name = front.name,
            .shows = front.shows == PotSets::Volts ? Quantity::Voltage : Quantity::Current,
            .points = front.points,
            .claim = front.claim};
}

void fields(Fields& f, FrontReadout& value)
{
    f.need("name", value.name, name_length);
    f.need("shows", value.shows);
    f.may("points", value.points, Lengths{0, 200});
    f.may("claim", value.claim);
}

void fields(Fields& f, RehousePlan& value)
{
    constexpr Lengths several{0, 20};
    f.may("pots", value.pots, several);
    f.may("spacers", value.spacers, several);
    f.may("readouts", value.readouts, several);
    f.may("fuse_a", value.fuse_a, range::positive);
    f.may("feed_a", value.feed_a, range::positive);
    f.may("vented", value.vented);
    f.demandUniqueNames("pots", value.pots);
    f.demandUniqueNames("spacers", value.spacers);
    f.demandUniqueNames("readouts", value.readouts);
}

std::vector<std::string> throughFront(const PanelPlan& panel, bool mains, bool neutral)
{
    std::vector<std::string> all;
    for (const PanelPart kind : {PanelPart::Inlet, PanelPart::FuseHolder, PanelPart::Switch})
        for (const PanelItem& item : panel.items)
            if (item.kind == kind && item.mains == mains && !(neutral && kind == PanelPart::FuseHolder))
                all.push_back(item.name);
    return all;
}

const PanelItem* postOf(const PanelPlan& panel, const std::string& rail, bool returns)
{
    for (const PanelItem& item : panel.items)
        if ((item.kind == PanelPart::Post || item.kind == PanelPart::Socket) && item.serves == rail &&
            item.returns == returns)
            return &item;
    return nullptr;
}

} // namespace offshoot
