// Files kept beside a job: NAME.captures/, NAME.recordings/.
#pragma once

#include <QByteArray>
#include <QString>

namespace offshoot::ui {

/// Writes `content` as BASE.csv, or BASE-2.csv …, into NAME.WHAT/ beside the job; its name from the job's
/// folder. Empty where it cannot be kept: the job was never saved, or the folder cannot be written.
QString keptBeside(const QString& jobPath, const QString& what, const QString& base,
                   const QByteArray& content);

/// The file that a job names: from its folder, of one that was never saved from where the program runs; as it
/// is where the name is whole.
QString pathBeside(const QString& jobPath, const QString& name);

} // namespace offshoot::ui
