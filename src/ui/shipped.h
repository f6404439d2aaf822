// The files that come with the program.
#pragma once

#include <QString>

namespace offshoot::ui {

/// Where "jobs", "drawers" or "schemas" are: beside an installed program, or in the source tree it was built
/// from.
QString shippedFolder(const QString& name);

} // namespace offshoot::ui
