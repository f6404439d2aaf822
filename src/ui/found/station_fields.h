// The ratings of each station as rows of a table: one line a field.
#pragma once

#include "ui/fields/value_field.h"

class QFormLayout;

namespace offshoot::ui {

struct StationPlace
{
    Station station;
    std::size_t rail; ///< its place among the rails
    std::size_t unit; ///< 0 for the one on the bench
};

/// Adds the fields of one station to a form: those that the unit's topology has.
void addStationFields(const StationPlace& place, QFormLayout& form, JobSession& session);

} // namespace offshoot::ui
