#include "store/shelf_file.h"

#include "store/job_store.h"

#include <QCoreApplication>
#include <QDir>
#include <QFileInfo>

namespace offshoot {

namespace {

QString tr(const char* text) { return QCoreApplication::translate("ShelfFile", text); }

} // namespace

QString ownShelfPath()
{
    QString base = qEnvironmentVariable("XDG_DATA_HOME");
    if (base.isEmpty())
        base = QDir::homePath() + QStringLiteral("/.local/share");
    return base + QStringLiteral("/offshoot/own.shelf");
}

Shelf loadShelf(const QString& path)
{
    try {
        return readShelf(readFile(path).toStdString());
    } catch (const DocumentError& error) {
        throw StoreError(
            tr("%1 cannot be read: %2, at %3")
                .arg(QDir::toNativeSeparators(path), QString::fromUtf8(error.what()),
                     error.path().empty() ? tr("its beginning") : QString::fromStdString(error.path())));
    }
}

void saveShelf(const Shelf& shelf, const QString& path)
{
    const QString folder = QFileInfo(path).absolutePath();
    if (!QDir().mkpath(folder))
        throw StoreError(tr("%1 cannot be made.").arg(QDir::toNativeSeparators(folder)));
    writeFile(path, QByteArray::fromStdString(writeShelf(shelf)));
}

} // namespace offshoot
