// The jobs of a folder to choose from: title, need and how far each has come. Enter opens one in its own
// window.
#pragma once

#include "ui/look.h"

#include <QDialog>
#include <QStringList>
#include <QThreadPool>
#include <atomic>
#include <memory>

class QListWidget;

namespace offshoot::ui {

class JobList : public QDialog
{
    Q_OBJECT

public:
    JobList(const QString& folder, QWidget* parent = nullptr);
    ~JobList() override;
    /// The file chosen; empty when none was.
    QString chosen() const { return m_chosen; }

private:
    QListWidget* m_list;
    QString m_chosen;
    QThreadPool m_pool; ///< reads and evaluates the jobs: a folder may hold many
    std::shared_ptr<std::atomic<bool>> m_closed = std::make_shared<std::atomic<bool>>(false);
};

} // namespace offshoot::ui
