#include "ui/frame/job_list.h"

#include "store/job_store.h"
#include "ui/fields/paragraph.h"

#include <QDir>
#include <QListWidget>
#include <QVBoxLayout>

namespace offshoot::ui {

using namespace Qt::StringLiterals;

namespace {

/// Two lines about a job, or why it cannot be read. A simulation stops once nobody looks any more.
QString lineOf(const QString& path, const std::atomic<bool>& closed)
{
    try {
        const Job job = readJob(readFile(path).toStdString());
        const double lastS = job.log.empty() ? 0 : job.log.back().time_s;
        const auto run = chainRunOf(job, [&closed](double) { return !closed; });
        const Evaluation e = evaluate(job, lastS, run ? &*run : nullptr);
        QString next = JobList::tr("signed off");
        for (const StageView& stage : e.stages)
            if (!e.signed_off && !stage.next.empty()) {
                next = JobList::tr("next: %1").arg(qs(stage.next));
                break;
            }
        return u"%1\n%2 · %3"_s.arg(qs(job.title), qs(e.need_line), next);
    } catch (const std::exception& error) {
        return u"%1\n%2"_s.arg(QFileInfo(path).fileName(), QString::fromUtf8(error.what()));
    }
}

} // namespace

JobList::JobList(const QString& folder, QWidget* parent)
    : QDialog(parent)
    , m_list(new QListWidget)
{
    setWindowTitle(tr("Jobs"));
    setObjectName(u"jobList"_s);
    resize(760, 420);
    auto* layout = new QVBoxLayout(this);
    const QDir jobs(folder);
    const QStringList files = jobs.entryList({u"*.offshoot"_s}, QDir::Files, QDir::Name);
    auto* head =
        new Paragraph(files.isEmpty() ? tr("There are no jobs in %1.").arg(folder)
                                      : tr("Jobs in %1. Enter opens one in its own window.").arg(folder));
    layout->addWidget(head);
    layout->addWidget(m_list);
    m_list->setAccessibleName(tr("Jobs"));
    m_list->setWordWrap(true);
    m_list->setSpacing(4);
    for (const QString& file : files) {
        const QString path = jobs.filePath(file);
        auto* item = new QListWidgetItem(file, m_list);
        item->setData(Qt::UserRole, path);
        m_pool.start([this, item, path, closed = m_closed] {
            if (*closed)
                return;
            try {
                const QString line = lineOf(path, *closed);
                QMetaObject::invokeMethod(
                    this, [item, line] { item->setText(line); }, Qt::QueuedConnection);
            } catch (const SimCancelled&) {
                // The list was closed.
            }
        });
    }
    m_list->setCurrentRow(0);
    connect(m_list, &QListWidget::itemActivated, this, [this](const QListWidgetItem* item) {
        m_chosen = item->data(Qt::UserRole).toString();
        QDialog::accept();
    });
}

JobList::~JobList()
{
    *m_closed = true;
    m_pool.clear();
    m_pool.waitForDone();
}

} // namespace offshoot::ui
