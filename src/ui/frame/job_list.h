// The jobs of a folder to choose from: title, need and how far each has come. Enter opens one in its own
// window.
#pragma once

#include "ui/look.h"

#include <QDialog>
#include <QStringList>

class QListWidget;

namespace offshoot::ui {

class JobList : public QDialog
{
    Q_OBJECT

public:
    JobList(const QString& folder, QWidget* parent = nullptr);
    /// The file chosen; empty when none was.
    QString chosen() const { return m_chosen; }

private:
    QListWidget* m_list;
    QString m_chosen;
};

} // namespace offshoot::ui
