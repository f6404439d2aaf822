// What a meter is asked with: a table that ships in data/meters and that a user can extend.
#pragma once

#include "core/values/parsed.h"

#include <QByteArray>
#include <QString>
#include <vector>

namespace offshoot::bench {

/// One row of the table. A question that is empty is not asked.
struct MeterCommands
{
    QString name = QStringLiteral("standard");
    QString answers = {}; ///< a text within what it calls itself; empty: taken by its name alone
    QByteArray identify = "*IDN?";
    QByteArray function = "FUNC?"; ///< or "=VOLT": it is always that and is not asked
    QByteArray value = "READ?";
    QByteArray ends = "\n"; ///< of a question
};

/// Reads a table with the columns name, answers, identify, function, value and ends (lf, cr or crlf); only
/// name and value must be there. The problem's position is the line, from 1.
Parsed<std::vector<MeterCommands>> readMeterCommands(std::string_view csv);

/// The row of that name, or the first whose `answers` stands in what the meter calls itself; null where there
/// is none.
const MeterCommands* commandsNamed(const std::vector<MeterCommands>& table, const QString& name);
const MeterCommands* commandsFor(const std::vector<MeterCommands>& table, const QString& identity);

} // namespace offshoot::bench
