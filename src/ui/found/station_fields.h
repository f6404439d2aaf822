// The ratings of each station as rows of a table: one line a field.
#pragma once

#include "ui/fields/value_field.h"

class QFormLayout;

namespace offshoot::ui {

/// Adds the fields of one station to a form: those that the supply's topology has, for the rail of that
/// place.
void addStationFields(Station station, std::size_t rail, QFormLayout& form, JobSession& session);

} // namespace offshoot::ui
