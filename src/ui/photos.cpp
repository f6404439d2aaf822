#include "ui/photos.h"

#include <QCoreApplication>
#include <QDir>
#include <QFileInfo>
#include <QImageReader>

namespace offshoot::ui {

using namespace Qt::StringLiterals;

namespace {

QString tr(const char* text) { return QCoreApplication::translate("Photos", text); }

constexpr int longest_px = 2400; ///< a print as wide as a page needs no more

QString freeName(const QDir& folder, const QString& base)
{
    QString name = base + u".jpg"_s;
    for (int i = 2; folder.exists(name); ++i)
        name = u"%1-%2.jpg"_s.arg(base).arg(i);
    return name;
}

} // namespace

KeptPhoto keepPhoto(const QString& jobPath, const QString& typed)
{
    if (jobPath.isEmpty())
        return {typed,
                tr("The photograph stays where it is: save the job, and log it again to keep it beside it.")};
    const QFileInfo job(jobPath);
    QString from = typed;
    if (from.startsWith(u"~/"_s))
        from.replace(0, 1, QDir::homePath());
    QImageReader reader(QDir(job.path()).absoluteFilePath(from));
    reader.setAutoTransform(true);
    QImage image = reader.read();
    if (image.isNull())
        return {typed, tr("%1 is no picture that can be read: only its name is kept.").arg(typed)};
    if (std::max(image.width(), image.height()) > longest_px)
        image = image.scaled(longest_px, longest_px, Qt::KeepAspectRatio, Qt::SmoothTransformation);
    for (const QString& key : image.textKeys())
        image.setText(key, {});
    const QString folderName = job.completeBaseName() + u".photos"_s;
    QDir folder(job.path());
    if (!folder.mkpath(folderName) || !folder.cd(folderName))
        return {typed, tr("Cannot make the folder %1: the photograph stays where it is.").arg(folderName)};
    const QString name = freeName(folder, QFileInfo(from).completeBaseName());
    constexpr int quality = 88;
    if (!image.convertToFormat(QImage::Format_RGB32).save(folder.filePath(name), "JPG", quality))
        return {typed, tr("Cannot write %1: the photograph stays where it is.").arg(folder.filePath(name))};
    return {folderName + u'/' + name, {}};
}

} // namespace offshoot::ui
