// Every part that a plan uses or asks for, and what is to be got.
#pragma once

#include "core/kinds/job_figures.h"

#include <string>
#include <vector>

namespace offshoot {

/// A part that the plan uses or asks for.
struct PartLine
{
    std::string name;     ///< "15k, 1 %, 250 mW"
    std::string where;    ///< "across the bottom leg"
    std::string replaces; ///< what goes out for it; empty where nothing does
    bool to_get = true;   ///< not in the drawer
    bool tool = false;    ///< for the work, not fitted: test loads, lamp, discharge resistor
};

/// The list as the kinds of change write it.
class PartList
{
public:
    explicit PartList(const Job& job)
        : m_job(job)
    {}

    void add(std::string name, std::string where, std::string replaces = {}, bool to_get = true);
    /// To be got unless one of these ohms, for at least this power, lies in the drawer.
    void addResistor(double ohm, const std::optional<double>& tolerance, const std::optional<double>& power_w,
                     std::string where, std::string replaces = {});
    bool inDrawer(double ohm, const std::optional<double>& power_w) const;
    /// What the work asks for and nobody leaves in the unit; each once.
    void addTool(const std::string& name, const std::string& where);
    std::vector<PartLine> take() { return std::move(m_lines); }

private:
    const Job& m_job;
    std::vector<PartLine> m_lines;
};

} // namespace offshoot
