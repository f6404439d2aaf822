// Draws every main view from the demo job, for the documentation and for looking at.
#pragma once

#include <QString>

namespace offshoot::app {

/// Saves one PNG of each main view at 1280 × 800 (and what a narrow window shows) into `folder`. False if one
/// could not be written.
bool saveScreenshots(const QString& demoJob, const QString& folder);

} // namespace offshoot::app
