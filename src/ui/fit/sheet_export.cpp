#include "ui/fit/sheet_export.h"

#include "core/kinds/svg_sheet.h"
#include "store/job_store.h"

#include <QCoreApplication>
#include <QFile>
#include <QFileInfo>
#include <QPainter>
#include <QPdfWriter>
#include <QSvgRenderer>

namespace offshoot::ui {

using namespace Qt::StringLiterals;

namespace {

QString tr(const char* text) { return QCoreApplication::translate("SheetExport", text); }

void writePdf(const QString& path, const std::vector<std::string>& pages, const QString& title)
{
    QFile file(path);
    if (!file.open(QIODevice::WriteOnly))
        throw StoreError(tr("Cannot write %1: %2").arg(path, file.errorString()));
    QPdfWriter writer(&file);
    constexpr int dpi = 1200;
    constexpr double mm_per_inch = 25.4;
    writer.setResolution(dpi);
    writer.setPageSize(QPageSize(QPageSize::A4));
    writer.setPageMargins(QMarginsF(0, 0, 0, 0));
    writer.setTitle(title);
    QPainter painter(&writer);
    // By millimetres, not by the page as it was rounded: the scale is true.
    const QRectF page(0, 0, sheet::width / mm_per_inch * dpi, sheet::height / mm_per_inch * dpi);
    for (std::size_t i = 0; i < pages.size(); ++i) {
        if (i > 0)
            writer.newPage();
        QSvgRenderer renderer(QByteArray::fromStdString(pages[i]));
        renderer.render(&painter, page);
    }
}

} // namespace

void writeSheets(const QString& path, const std::vector<std::string>& pages, const QString& title)
{
    if (path.endsWith(u".pdf"_s, Qt::CaseInsensitive))
        return writePdf(path, pages, title);
    const QFileInfo info(path);
    for (std::size_t i = 0; i < pages.size(); ++i) {
        const QString name =
            pages.size() == 1
                ? path
                : u"%1/%2-%3.%4"_s.arg(info.path(), info.completeBaseName()).arg(i + 1).arg(info.suffix());
        writeFile(name, QByteArray::fromStdString(pages[i]));
    }
}

} // namespace offshoot::ui
