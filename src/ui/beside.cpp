#include "ui/beside.h"

#include "store/job_store.h"

#include <QDir>
#include <QFileInfo>

namespace offshoot::ui {

using namespace Qt::StringLiterals;

QString keptBeside(const QString& jobPath, const QString& what, const QString& base,
                   const QByteArray& content)
{
    if (jobPath.isEmpty())
        return {};
    const QString folderName = QFileInfo(jobPath).completeBaseName() + u'.' + what;
    QDir folder(QFileInfo(jobPath).path());
    if (!folder.mkpath(folderName) || !folder.cd(folderName))
        return {};
    QString name = base + u".csv"_s;
    for (int i = 2; folder.exists(name); ++i)
        name = u"%1-%2.csv"_s.arg(base).arg(i);
    try {
        writeFile(folder.filePath(name), content);
    } catch (const StoreError&) {
        return {};
    }
    return folderName + u'/' + name;
}

QString pathBeside(const QString& jobPath, const QString& name)
{
    return QDir(jobPath.isEmpty() ? QDir::currentPath() : QFileInfo(jobPath).path()).absoluteFilePath(name);
}

} // namespace offshoot::ui
