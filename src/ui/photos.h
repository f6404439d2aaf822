// Photographs of a job: kept beside it in NAME.photos/, drawn anew, so that nothing a camera writes into them
// (place, time, owner) goes along.
#pragma once

#include "core/job/job.h"

#include <QImage>
#include <QString>

class QPainter;

namespace offshoot::ui {

struct KeptPhoto
{
    QString name;         ///< from the job's folder; as typed where it could not be kept
    QString problem = {}; ///< why it stays where it is; empty where it was kept
};
/// `jobPath` is empty of a job that was never saved.
KeptPhoto keepPhoto(const QString& jobPath, const QString& typed);

/// A photograph of the job with its pins drawn, each a ring with its number; null where it is gone. `folder`
/// is the job's.
QImage pinnedPhoto(const Job& job, const QString& folder, const std::string& photo);
/// A pin's ring and number, `at` the place that it means.
void paintPin(QPainter& painter, QPointF at, int number, double size, bool current = false);

} // namespace offshoot::ui
