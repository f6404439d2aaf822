// Other units in the place of the old one: rows and steps, made from the planned fit and wiring.
#pragma once

#include "core/kinds/job_figures.h"
#include "core/kinds/replace/wanted.h"
#include "core/procedure/change_procedure.h"

#include <string>
#include <vector>

namespace offshoot {

/// What the units that replace it are held against, of each output and of all.
std::vector<ConsequenceRow> replaceRows(const Job& job, const Figures& figures);
/// The steps that take the old unit out and put the new ones in.
void replaceSteps(ChangeProcedure& procedure);
/// What is left over, tugged wires, the lid held on: once everything is connected.
void closeReplacement(ChangeProcedure& procedure);
/// Behind the limiter, in place: every wire at its unplugged connector, against the card.
void readAtConnectors(ChangeProcedure& procedure);
/// Set points under the load, warm.
void setNewUnits(ChangeProcedure& procedure);
/// One that can be bought and draws at least what is asked: a twentieth more than that, nearest E24 value.
TestLoad dummyLoad(const PlannedDummy& dummy);
/// What holds an enable pin on, and what happens if that opens.
std::string enableWords(EnablePin pin);

} // namespace offshoot
