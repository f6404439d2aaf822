// The kinds that come with the core, one folder each.
#pragma once

#include "core/kinds/kind.h"
#include "core/procedure/change_procedure.h"

namespace offshoot::kind {

/// Usual surface limit: a winding of class E less what is hotter inside.
inline const WarmPart warm_winding{"winding", 363.15, "usual surface limit of a winding"};

extern const Kind replace;
extern const Kind module;
extern const Kind rehouse;
extern const Kind panel;
extern const Kind rewind;
extern const Kind current_limit;
extern const Kind windings;
extern const Kind surge_limiter;
extern const Kind chain;
extern const Kind wire;
extern const Kind dummy_load;
extern const Kind refits;
extern const Kind divider;
extern const Kind joined;
extern const Kind trim;

} // namespace offshoot::kind
