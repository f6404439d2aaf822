// Merging the wires of a cut harness: several conductors side by side for one current. How it shares between
// them, and how warm they get, as a guide.
//
// Temperature: a round bundle in still air gives off about 10 W/(m²·K) by convection and radiation together
// (textbook figure for horizontal cylinders of some millimetres, ± 30 %). Not for cable inside walls, wound
// up or under insulation: there the local tables rule.
#pragma once

#include "core/values/verdict.h"

#include <optional>

namespace offshoot {

struct MergeInput
{
    double current_a;          ///< of all together
    double area_m2;            ///< of each conductor
    std::int64_t conductors;   ///< each way
    double length_m;           ///< one way
    double joint_ohm = 0.002;  ///< of each conductor's crimp or joint, both ends together
    double joint_spread = 0.5; ///< the best and the worst joint differ by this share either way
    double ambient_k = 298.15;
    double insulation_m = 0.0005; ///< thickness
};

struct MergeResult
{
    double each_a;           ///< mean
    double most_a;           ///< in the conductor with the best joints, the others having the worst
    double r_way_ohm;        ///< of all together, one way
    double loss_w_per_m;     ///< of the bundle
    double rise_k;           ///< of the bundle at the mean current
    double conductor_k;      ///< temperature reached
    double density_a_per_m2; ///< in the conductor that carries most
    Verdict verdict; ///< fits up to 20 K, tight up to 40 K, breaks above; at most tight above 6 A/mm²
};

/// Throws nothing; every input is above 0. No thermal runaway is modelled: above 200 K the rise is cut off.
MergeResult mergeWires(const MergeInput& in);

/// The fewest conductors of that size that fit, at most 20; nothing where even those do not.
std::optional<std::int64_t> conductorsFor(MergeInput in);

} // namespace offshoot
