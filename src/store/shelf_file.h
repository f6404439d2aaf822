// The shelf on disk. A person's own shelf is one file; until there is one, the shipped one stands in.
#pragma once

#include "core/supply/shelf.h"

#include <QString>

namespace offshoot {

/// Where a person's own shelf is kept: $XDG_DATA_HOME/offshoot/own.shelf.
QString ownShelfPath();
/// Throws StoreError that names the file and the place in it.
Shelf loadShelf(const QString& path);
/// Replaces the file atomically; makes its folder. Throws StoreError.
void saveShelf(const Shelf& shelf, const QString& path);

} // namespace offshoot
