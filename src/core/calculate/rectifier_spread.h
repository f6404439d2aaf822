// What a rectifier chain does when nothing is at its nominal value: the mains at its ends, capacitors and
// chokes at theirs.
#pragma once

#include "core/calculate/rectifier.h"

namespace offshoot {

/// Of a capacitor or choke nobody read a tolerance of.
inline constexpr double usual_tolerance = 0.20;

/// One set of values: each a share of its nominal value, 1.1 for 10 % more.
struct ChainCorner
{
    double mains = 1;
    std::vector<double> sections = {}; ///< of the filter; 1 for a resistor
    double upper = 1;                  ///< of a doubler
    double lower = 1;
    bool operator==(const ChainCorner&) const = default;
};

/// What is simulated at that corner.
RectifierChain atCorner(const RectifierChain& chain, const ChainCorner& corner);

struct ChainSpread
{
    struct Place
    {
        double trough_v;
        double crest_v;
    };
    std::vector<Place> places; ///< behind the rectifier, then behind each choke and resistor: the outermost
    double low_v = 0;          ///< lowest trough at the load
    double high_v = 0;         ///< highest crest at the load
    double ripple_v = 0;       ///< largest, peak to peak, at the load
    ChainCorner lowest;
    ChainCorner highest;
    ChainCorner roughest; ///< of the largest ripple
    int states = 0;       ///< steady states looked at
    int without = 0;      ///< where there is none
};

/// Steady states at the corners of the tolerances (both ends of the mains with every capacitor and choke at
/// either end; drawn among them where those are more than 128), then values drawn evenly between them, 216 in
/// all. Mains: `spread` of the source. The same chain gives the same answer. Throws SimCancelled.
ChainSpread chainSpread(const RectifierChain& chain, const SimProgress& progress);

} // namespace offshoot
