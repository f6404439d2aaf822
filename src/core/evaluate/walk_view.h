// One walk along the board, part by part: what each says about itself, what reading it would decide, and
// what is open at the end.
#pragma once

#include "core/evaluate/evaluation.h"
#include "core/supply/part_figures.h"

#include <optional>
#include <string>
#include <vector>

namespace offshoot {

struct WalkFigure
{
    const PartFigure* figure;
    std::optional<double> value; ///< as read
    std::string shown;           ///< "35 V"; empty where nobody read it
    std::string worth;           ///< what reading it decides, or that it may be skipped
    bool decides = false;
    bool blocks = false; ///< the sign-off waits for it
};

struct WalkStop
{
    BoardPlace place;
    std::string name; ///< with its rail where there are several
    std::vector<WalkFigure> figures;
    bool absent = false;  ///< somebody looked: there is none
    bool open() const;    ///< something was not read
    bool matters() const; ///< and that decides or blocks
};

struct WalkView
{
    std::vector<WalkStop> stops;
    std::string summary; ///< what is still open, and whether it matters
};
WalkView walkView(const Job& job, const Evaluation& evaluation);

/// Whether hands may go to the board now: it is proven dead, or nothing in the log says that it ever had
/// power and somebody says that it had none. Else why not.
std::string walkBarred(const Job& job, const Evaluation& evaluation, bool never_powered);
/// Nothing in the log speaks against that.
bool mayBeNeverPowered(const Job& job, const Evaluation& evaluation);

} // namespace offshoot
