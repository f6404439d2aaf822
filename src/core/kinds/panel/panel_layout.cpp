// Where the parts of a front go when nobody said.
#include "core/kinds/panel/panel_view.h"
#include "core/kinds/replace/fit_view.h"
#include "core/values/figures.h"

#include <algorithm>
#include <cmath>

namespace offshoot {

namespace {

using lengths::mm;
constexpr double margin_m = 5 * mm;
constexpr double between_m = 4 * mm; ///< of neighbours at the least

constexpr double plugs_m = 19 * mm; ///< between the posts of a pair: what double plugs have

/// Parts in one row, centred at `y_m`, the room that is left shared between them; a post's return stands
/// beside it.
void layRow(const std::vector<PanelItem*>& row, double left_m, double right_m, double y_m)
{
    // A knob's range under it is about as wide as the knob: some air beside it.
    const auto wide = [](const PanelItem* item) {
        return shapeOf(*item).body.dx_m + (item->kind == PanelPart::Potentiometer ? letters_m : 0);
    };
    const auto pairs = [&](std::size_t i) { // with the one before it
        return i > 0 && row[i]->returns && row[i]->kind == PanelPart::Post &&
               row[i - 1]->kind == PanelPart::Post && row[i - 1]->serves == row[i]->serves;
    };
    double taken_m = 0;
    std::size_t gaps = 1;
    for (std::size_t i = 0; i < row.size(); ++i) {
        taken_m += pairs(i) ? plugs_m : wide(row[i]);
        gaps += pairs(i) ? 0U : 1U;
    }
    const double gap_m = std::max(0.0, (right_m - left_m - taken_m) / static_cast<double>(gaps));
    double x_m = left_m;
    const auto whole = [](double m) { return std::round(m / mm) * mm; };
    for (std::size_t i = 0; i < row.size(); ++i) {
        const double before_m = pairs(i) ? plugs_m - wide(row[i]) : gap_m;
        row[i]->x_m = whole(x_m + before_m + wide(row[i]) / 2);
        row[i]->y_m = whole(y_m);
        x_m += before_m + wide(row[i]);
    }
}

} // namespace

void spread(PanelPlan& panel)
{
    std::vector<PanelItem*> mains;
    std::vector<PanelItem*> rest;
    for (PanelItem& item : panel.items)
        (item.mains ? mains : rest).push_back(&item);
    std::ranges::stable_sort(rest, {}, [](const PanelItem* item) {
        return item->kind == PanelPart::Post || item->kind == PanelPart::Socket;
    });
    // Mains parts one below the other in as many columns as they take.
    double left_m = margin_m;
    double column_m = 0;
    double y_m = panel.height_m - letters_m;
    for (PanelItem* item : mains) {
        const PanelBox body = shapeOf(*item).body;
        if (y_m - body.dy_m < margin_m && column_m > 0) {
            left_m += column_m + margin_m;
            column_m = 0;
            y_m = panel.height_m - letters_m;
        }
        item->x_m = left_m + body.dx_m / 2;
        item->y_m = y_m - body.dy_m / 2;
        y_m -= body.dy_m + letters_m;
        column_m = std::max(column_m, body.dx_m);
    }
    if (column_m > 0)
        left_m += column_m + to_touched_m + 2 * mm;
    // The rest in rows to their right.
    const double right_m = panel.width_m - margin_m;
    std::vector<std::vector<PanelItem*>> all_rows(1);
    double whole_m = 0;
    for (const PanelItem* item : rest)
        whole_m += shapeOf(*item).body.dx_m + between_m;
    const bool several = whole_m > right_m - left_m;
    double taken_m = 0;
    for (PanelItem* item : rest) {
        const double wide_m = shapeOf(*item).body.dx_m + between_m;
        const bool posts_begin = several && item->kind == PanelPart::Post && !all_rows.back().empty() &&
                                 all_rows.back().back()->kind != PanelPart::Post;
        if (posts_begin || (taken_m + wide_m > right_m - left_m && !all_rows.back().empty())) {
            all_rows.emplace_back();
            taken_m = 0;
        }
        all_rows.back().push_back(item);
        taken_m += wide_m;
    }
    const auto count = static_cast<double>(all_rows.size());
    for (std::size_t i = 0; i < all_rows.size(); ++i)
        if (!all_rows[i].empty())
            layRow(all_rows[i], left_m, right_m,
                   panel.height_m * (count - static_cast<double>(i) - 0.5) / count - letters_m / 2);
}

PanelPlan usualPanel(const Job& job)
{
    constexpr double usual_width_m = 160 * mm;
    constexpr double usual_height_m = 60 * mm;
    PanelPlan panel =
        job.plan.panel.value_or(PanelPlan{.width_m = usual_width_m, .height_m = usual_height_m});
    panel.items.clear();
    if (const auto& space = job.found.space; space && !job.plan.panel) {
        panel.width_m = space->inside.x_m;
        panel.height_m = space->inside.z_m;
        panel.metal = space->earthed_metal;
    }
    const auto add = [&](std::string name, PanelPart kind, std::string serves = {}) -> PanelItem& {
        panel.items.push_back({.name = std::move(name), .kind = kind, .serves = std::move(serves)});
        return panel.items.back();
    };
    const bool mains = !job.found.dcFed();
    if (mains || job.plan.rehouse) {
        add("fuse", PanelPart::FuseHolder).mains = mains;
        add("switch", PanelPart::Switch).mains = mains;
    }
    if (job.plan.rehouse) {
        for (const BroughtOut& pot : job.plan.rehouse->pots)
            add(pot.name, PanelPart::Potentiometer, pot.name);
        for (const FrontReadout& readout : job.plan.rehouse->readouts)
            add("readout " + readout.name, PanelPart::Readout, readout.name);
    }
    for (const Rail& rail : job.found.rails) {
        add(rail.name + " out", PanelPart::Post, rail.name);
        add(rail.name + " return", PanelPart::Post, rail.name).returns = true;
    }
    spread(panel);
    return panel;
}

} // namespace offshoot
