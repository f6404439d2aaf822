// `bench.play`: a job worked on a simulated unit, by a script of moves or by its own procedure.
#pragma once

#include "core/values/json.h"

namespace offshoot {

/// The answer: what is seen and read at each move, what each wrong one would have done, and at the end what
/// the unit truly was. Deterministic for a seed. Throws DocumentError.
Json benchPlay(const Json& input);
/// Its published JSON Schema.
Json benchPlaySchema();
/// Of the input: `{job, seed?, fault?, moves?}`; without moves the procedure's own are made.
Json benchPlayInputSchema();

} // namespace offshoot
