// Questions on which good people disagree.
#pragma once

#include "core/job/job.h"

#include <string>
#include <vector>

namespace offshoot {

/// A question on which good people disagree, with this job's figures.
struct School
{
    struct Side
    {
        std::string name;
        std::string figures;
    };
    std::string question;
    std::vector<Side> sides;
    std::size_t pick;
    std::string why;
};

struct Figures;
/// What another plan for the same job would come to.
using FiguresOf = Figures (*)(const Job& job);

} // namespace offshoot
