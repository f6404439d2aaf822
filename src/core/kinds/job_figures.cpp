#include "core/kinds/job_figures.h"

namespace offshoot {

Figures::Figures() = default;
Figures::Figures(const Figures&) = default;
Figures::Figures(Figures&&) noexcept = default;
Figures& Figures::operator=(const Figures&) = default;
Figures& Figures::operator=(Figures&&) noexcept = default;
Figures::~Figures() = default;

} // namespace offshoot
