// What meters are asked with: the table that ships, and one's own.
#pragma once

#include "bench/meter_commands.h"

#include <QString>
#include <vector>

namespace offshoot::ui {

/// One's own rows before those that ship, but for the standard one, which comes first. What is wrong with a
/// file goes into `wrong`; its rows are left out.
std::vector<bench::MeterCommands> meterCommands(QString& wrong);

} // namespace offshoot::ui
