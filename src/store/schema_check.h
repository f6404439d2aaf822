// Checks a job document against the published schema with the schema library, besides what the core says.
#pragma once

#include <string>
#include <string_view>

namespace offshoot {

/// Throws DocumentError at the place that does not match. The text must be one JSON value.
void checkAgainstJobSchema(std::string_view text);

} // namespace offshoot
