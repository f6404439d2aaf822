// The shelf as a person has it: the shipped one until something is put on it, then a file of one's own.
#pragma once

#include "core/supply/shelf.h"

#include <QString>

namespace offshoot::ui {

class OwnShelf
{
public:
    OwnShelf() { reload(); }
    const std::vector<ShelfEntry>& units() const { return m_shelf.units; }
    /// Why the file cannot be read; nothing is put on the shelf then.
    const QString& problem() const { return m_problem; }
    bool own() const { return m_own; }
    /// Looks at the file again: another window may have put something there.
    void reload();
    /// Puts it on the shelf, in the place of one of that name. What is wrong, or empty.
    QString put(const ShelfEntry& entry);
    /// All of them, from a CSV, in the place of what is there; one of a name that is there keeps its holes,
    /// zones and terminals. What is wrong, or empty.
    QString replace(std::vector<ShelfEntry> units);

private:
    QString save(Shelf shelf);

    Shelf m_shelf;
    QString m_problem;
    bool m_own = false;
};

} // namespace offshoot::ui
