// The unit's own trimmer turned: in Bring-up, while its rails are read.
#include "core/kinds/modules.h"
#include "core/values/figures.h"

namespace offshoot::kind {

namespace {

bool planned(const Job& job) { return job.plan.trim.has_value(); }

void lines(const Job& job, std::vector<std::string>& all)
{
    all.push_back(job.plan.trim->trimmer + " to " + significant(job.plan.trim->scale * 100, 4) +
                  " % of where it stood");
}

} // namespace

const Kind trim{.planned = planned, .inside = false, .lines = lines, .pictures = trimPictures};

} // namespace offshoot::kind
