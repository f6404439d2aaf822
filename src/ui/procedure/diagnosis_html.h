// Which single faults explain a reading, as a table.
#pragma once

#include "core/calculate/divider_diagnose.h"
#include "ui/look.h"

namespace offshoot::ui {

/// Empty where the reading is what the plan gives.
QString diagnosisHtml(const DividerDiagnoseResult& diagnosis, const QString& reading, const Look& look);

} // namespace offshoot::ui
