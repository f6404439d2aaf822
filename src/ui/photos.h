// Photographs of a job: kept beside it in NAME.photos/, drawn anew, so that nothing a camera writes into them
// (place, time, owner) goes along.
#pragma once

#include <QString>

namespace offshoot::ui {

struct KeptPhoto
{
    QString name;         ///< from the job's folder; as typed where it could not be kept
    QString problem = {}; ///< why it stays where it is; empty where it was kept
};
/// `jobPath` is empty of a job that was never saved.
KeptPhoto keepPhoto(const QString& jobPath, const QString& typed);

} // namespace offshoot::ui
