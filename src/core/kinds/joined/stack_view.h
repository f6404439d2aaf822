// Units stacked: where each stands.
#pragma once

#include "core/calculate/stack.h"
#include "core/kinds/job_figures.h"
#include "core/kinds/joined/units.h"
#include "core/supply/connections.h"

#include <optional>
#include <string>
#include <vector>

namespace offshoot {

/// As planned; what would be where nothing joins them yet.
StackModel stackModel(const Job& job, const Figures& figures);

struct StackView
{
    StackModel model;
    std::optional<StackResult> result;
    StackInput as_found; ///< with the bonds as they were found
    Connections wiring;  ///< as it is to be
    std::string sentence;
    std::vector<std::string> advice; ///< how to do it safely, in order
};
/// The stack as planned, with what it is to earth; says what is not entered yet.
StackView stackView(const Job& job, const Figures& figures);
/// The units from the bottom up, with links, bonds, diodes and earths; as found where nothing is planned.
Connections stackConnections(const Job& job, const Figures& figures);
/// Rows of units stacked.
std::vector<ConsequenceRow> stackRows(const JoinedUnits& joined);

} // namespace offshoot
