// The ratings of each station as rows of a table: one line a field.
#pragma once

#include "ui/fields/value_field.h"

class QFormLayout;

namespace offshoot::ui {

/// Adds the fields of one station to a form.
void addStationFields(Station station, QFormLayout& form, JobSession& session);

} // namespace offshoot::ui
