#include "ui/frame/meter_table.h"

#include "store/job_store.h"
#include "ui/look.h"
#include "ui/shipped.h"

#include <QFile>
#include <QStandardPaths>
#include <algorithm>

namespace offshoot::ui {

using namespace Qt::StringLiterals;

std::vector<bench::MeterCommands> meterCommands(QString& wrong)
{
    const QString own =
        QStandardPaths::writableLocation(QStandardPaths::GenericDataLocation) + u"/offshoot/meters.csv"_s;
    std::vector<bench::MeterCommands> table;
    for (const QString& path : {own, shippedFolder(u"meters"_s) + u"/commands.csv"_s}) {
        if (!QFile::exists(path))
            continue;
        try {
            const auto rows = bench::readMeterCommands(readFile(path).toStdString());
            if (rows)
                table.insert(table.end(), rows->begin(), rows->end());
            else
                wrong = u"%1: %2"_s.arg(path, qs(rows.problem().message));
        } catch (const StoreError& error) {
            wrong = QString::fromUtf8(error.what());
        }
    }
    // Unless a meter or somebody says otherwise it is asked as SCPI-1999 has it.
    std::stable_partition(table.begin(), table.end(),
                          [](const bench::MeterCommands& row) { return row.name == u"standard"_s; });
    return table;
}

} // namespace offshoot::ui
