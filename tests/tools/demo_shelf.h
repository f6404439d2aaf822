// The shelf of Saltmarsh Point: invented units of every sort.
#pragma once

#include "core/supply/shelf.h"

namespace offshoot {

Shelf demoShelf();

} // namespace offshoot
