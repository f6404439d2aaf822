// The report of a job as HTML and PDF, both of the blocks of core/evaluate/report.h, and the label for its
// case as SVG.
#pragma once

#include "core/evaluate/evaluation.h"

#include <QString>

namespace offshoot::ui {

/// A whole HTML document. Says on top when the job is not signed off, and what is open. Photographs are named
/// from `folder`.
QString reportHtml(const Job& job, const Evaluation& evaluation, const ChainRun* run = nullptr,
                   const QString& folder = {});
/// Found, planned and measured side by side, as an HTML table.
QString comparisonHtml(const Evaluation& evaluation);
/// The same readings of every unit of a batch side by side, with the spread between them.
QString unitsHtml(const Job& job, const Evaluation& evaluation);
/// A label of 70 × 36 mm at true scale.
QString labelSvg(const Job& job, const Evaluation& evaluation, const QString& date);
/// Writes the report as PDF, rows whole and table heads repeated, with "not signed off" on every page when it
/// is not. Throws StoreError.
void writeReportPdf(const QString& path, const Job& job, const Evaluation& evaluation,
                    const ChainRun* run = nullptr, const QString& folder = {});

} // namespace offshoot::ui
