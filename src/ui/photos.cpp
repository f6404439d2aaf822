#include "ui/photos.h"

#include <QCoreApplication>
#include <QDir>
#include <QFileInfo>
#include <QImageReader>
#include <QPainter>
#include <algorithm>

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

void paintPin(QPainter& painter, QPointF at, int number, double size, bool current)
{
    painter.setPen(QPen(Qt::white, size * 0.34));
    painter.setBrush(Qt::NoBrush);
    painter.drawEllipse(at, size, size);
    painter.setPen(QPen(current ? QColor(0xB5, 0x2B, 0x1E) : QColor(0x07, 0x5A, 0x57), size * 0.2));
    painter.drawEllipse(at, size, size);
    const QRectF label(at.x() + size * 0.9, at.y() - size * 1.9, size * 1.9, size * 1.5);
    painter.fillRect(label, Qt::white);
    QFont font = painter.font();
    font.setPixelSize(std::max(8, static_cast<int>(size * 1.2)));
    font.setBold(true);
    painter.setFont(font);
    painter.drawText(label, Qt::AlignCenter, QString::number(number));
}

QImage pinnedPhoto(const Job& job, const QString& folder, const std::string& photo)
{
    QImage image(QDir(folder).absoluteFilePath(QString::fromStdString(photo)));
    const auto pins = pinsOn(job, photo);
    if (image.isNull() || pins.empty())
        return image;
    image = image.convertToFormat(QImage::Format_RGB32);
    QPainter painter(&image);
    painter.setRenderHint(QPainter::Antialiasing);
    constexpr double share = 0.018; // of the longer side: readable in print
    const double size = share * std::max(image.width(), image.height());
    int number = 0;
    for (const PhotoPin& pin : pins)
        paintPin(painter, {pin.x * image.width(), pin.y * image.height()}, ++number, size);
    return image;
}

} // namespace offshoot::ui
