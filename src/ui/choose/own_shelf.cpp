#include "ui/choose/own_shelf.h"

#include "store/job_store.h"
#include "store/shelf_file.h"
#include "ui/shipped.h"

#include <QCoreApplication>
#include <QFileInfo>
#include <algorithm>

namespace offshoot::ui {

using namespace Qt::StringLiterals;

void OwnShelf::reload()
{
    m_problem.clear();
    m_own = QFileInfo::exists(ownShelfPath());
    try {
        m_shelf =
            loadShelf(m_own ? ownShelfPath() : shippedFolder(u"shelves"_s) + u"/saltmarsh-point.shelf"_s);
    } catch (const StoreError& error) {
        m_shelf = {};
        m_problem = QString::fromUtf8(error.what());
    }
}

QString OwnShelf::put(const ShelfEntry& entry)
{
    reload();
    if (!m_problem.isEmpty())
        return m_problem;
    Shelf shelf = m_shelf;
    const auto same = std::ranges::find(shelf.units, entry.unit.name,
                                        [](const ShelfEntry& there) { return there.unit.name; });
    if (same != shelf.units.end())
        *same = entry;
    else if (shelf.units.size() == most_on_shelf)
        return QCoreApplication::translate("OwnShelf", "The shelf holds at most %1 units.")
            .arg(most_on_shelf);
    else
        shelf.units.push_back(entry);
    return save(std::move(shelf));
}

QString OwnShelf::replace(std::vector<ShelfEntry> units)
{
    reload();
    if (!m_problem.isEmpty())
        return m_problem;
    Shelf shelf = m_shelf;
    for (ShelfEntry& unit : units) {
        const ShelfEntry* same = entryNamed(m_shelf.units, unit.unit.name);
        if (same == nullptr)
            continue;
        unit.holes = same->holes;
        unit.zones = same->zones;
        unit.terminals = same->terminals;
        unit.spots = same->spots;
        unit.unknown = same->unknown;
    }
    shelf.units = std::move(units);
    return save(std::move(shelf));
}

QString OwnShelf::save(Shelf shelf)
{
    try {
        saveShelf(shelf, ownShelfPath());
    } catch (const StoreError& error) {
        return QString::fromUtf8(error.what());
    }
    m_shelf = std::move(shelf);
    m_own = true;
    return {};
}

} // namespace offshoot::ui
