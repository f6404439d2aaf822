// Draws every main view from the demo jobs, for the documentation and for looking at.
#pragma once

#include <QString>

namespace offshoot::app {

/// From the demo jobs in the folder `jobs`: saves one PNG of each main view at 1280 × 800 (and what a narrow
/// window shows) into `folder`. False if one could not be written.
bool saveScreenshots(const QString& jobs, const QString& folder);

} // namespace offshoot::app
