#include "ui/signoff/report.h"

#include "core/evaluate/report.h"
#include "core/kinds/chain/chain_view.h"
#include "core/kinds/planned.h"
#include "core/values/format.h"
#include "store/job_store.h"
#include "ui/look.h"
#include "ui/photos.h"

#include <QAbstractTextDocumentLayout>
#include <QBuffer>
#include <QCoreApplication>
#include <QFile>
#include <QImage>
#include <QPainter>
#include <QPdfWriter>
#include <QSvgRenderer>
#include <QTextDocument>
#include <functional>

namespace offshoot::ui {

using namespace Qt::StringLiterals;

namespace {

QString tr(const char* text) { return QCoreApplication::translate("Report", text); }

QString escaped(const std::string& text) { return qs(text).toHtmlEscaped(); }

QString shown(double value, Quantity quantity)
{
    return qs(quantity == Quantity::Voltage ? formatVolts(value) : formatValue(value, quantity));
}

/// The latest judged reading of a step.
const TakenReading* readingOf(const Evaluation& e, const std::string& step)
{
    for (const StepView& view : e.steps)
        if (view.step.id == step && !view.readings.empty() && view.readings.front())
            return &*view.readings.front();
    return nullptr;
}

/// What no page tears: its height, and how it is painted at a place.
struct Piece
{
    double height;
    std::function<void(QPainter&, QPointF)> paint;
    bool keeps_next = false;                ///< a heading stays with what follows
    std::shared_ptr<const Piece> head = {}; ///< of its table, repeated at the top of a page
};

/// Lays the blocks of a report out on pages: rows whole, headings with what follows, table heads repeated.
class Pages
{
public:
    Pages(QPdfWriter& writer, const Report& report, const Job& job, const QString& folder)
        : m_job(job)
        , m_folder(folder)
        , m_writer(writer)
        , m_width(writer.width())
        , m_height(writer.height() - foot_px)
        , m_report(report)
    {}

    void paint()
    {
        for (const ReportBlock& block : m_report.blocks)
            add(block);
        place();
        QPainter painter(&m_writer);
        for (std::size_t i = 0; i < m_pages.size(); ++i) {
            if (i > 0)
                m_writer.newPage();
            for (const auto& [y, piece] : m_pages[i])
                piece.paint(painter, QPointF(0, y));
            paintFoot(painter, i);
        }
    }

private:
    static constexpr double foot_px = 44;
    static constexpr double cell_px = 6;

    std::shared_ptr<QTextDocument> document(const QString& html, double width, double point,
                                            bool bold = false)
    {
        auto made = std::make_shared<QTextDocument>();
        made->documentLayout()->setPaintDevice(&m_writer);
        QFont font(u"Offshoot B612"_s);
        font.setPointSizeF(point);
        font.setBold(bold);
        made->setDefaultFont(font);
        made->setDocumentMargin(0);
        made->setHtml(html);
        made->setTextWidth(width);
        return made;
    }

    void addText(const QString& html, double point, bool bold, double above, bool keeps_next)
    {
        const auto text = document(html, m_width, point, bold);
        m_pieces.push_back({.height = text->size().height() + above + 8,
                            .paint =
                                [text, above](QPainter& painter, QPointF at) {
                                    painter.save();
                                    painter.translate(at + QPointF(0, above));
                                    text->drawContents(&painter);
                                    painter.restore();
                                },
                            .keeps_next = keeps_next});
    }

    Piece rowOf(const std::vector<QString>& cells, const std::vector<double>& widths, bool head)
    {
        double sum = 0;
        for (const double w : widths)
            sum += w;
        std::vector<std::pair<double, std::shared_ptr<QTextDocument>>> texts;
        double x = 0;
        double height = 0;
        for (std::size_t i = 0; i < cells.size() && i < widths.size(); ++i) {
            const double width = m_width * widths[i] / sum;
            texts.emplace_back(x, document(cells[i], width - 2 * cell_px, 8.5, head));
            height = std::max(height, texts.back().second->size().height());
            x += width;
        }
        const double width = m_width;
        return {.height = height + 2 * cell_px,
                .paint = [texts, width, height](QPainter& painter, QPointF at) {
                    for (const auto& [left, text] : texts) {
                        painter.save();
                        painter.translate(at + QPointF(left, cell_px));
                        text->drawContents(&painter);
                        painter.restore();
                    }
                    painter.setPen(QPen(QColor(0xB8B2A2), 1));
                    const double y = at.y() + height + 2 * cell_px - 1;
                    painter.drawLine(QPointF(at.x(), y), QPointF(at.x() + width, y));
                }};
    }

    void addTable(const ReportBlock& block)
    {
        std::vector<QString> titles;
        for (const std::string& title : block.head)
            titles.push_back(escaped(title));
        const auto head = std::make_shared<const Piece>(rowOf(titles, block.widths, true));
        for (std::size_t i = 0; i < block.rows.size(); ++i) {
            std::vector<QString> cells;
            for (const ReportCell& cell : block.rows[i].cells)
                cells.push_back(qs(cell.html));
            Piece row = rowOf(cells, block.widths, false);
            if (i == 0) {
                m_pieces.push_back(*head);
                m_pieces.back().keeps_next = true;
            }
            row.head = head;
            m_pieces.push_back(std::move(row));
        }
    }

    void addDrawing(const std::string& svg)
    {
        const auto renderer = std::make_shared<QSvgRenderer>(QByteArray::fromStdString(svg));
        if (!renderer->isValid())
            return;
        constexpr double css_dpi = 96;
        const double scale = m_writer.resolution() / css_dpi;
        QSizeF size = QSizeF(renderer->defaultSize()) * scale;
        if (size.width() > m_width)
            size *= m_width / size.width();
        if (size.height() > m_height * 0.9)
            size *= m_height * 0.9 / size.height();
        m_pieces.push_back(
            {.height = size.height() + 12, .paint = [renderer, size](QPainter& painter, QPointF at) {
                 renderer->render(&painter, QRectF(at, size));
             }});
    }

    void addPicture(const std::string& file)
    {
        const QImage image = pinnedPhoto(m_job, m_folder, file);
        if (image.isNull())
            return addText(tr("The photograph is gone."), 10, false, 4, false);
        const QSizeF size = QSizeF(image.size()).scaled(m_width * 0.7, m_height * 0.45, Qt::KeepAspectRatio);
        m_pieces.push_back(
            {.height = size.height() + 12, .paint = [image, size](QPainter& painter, QPointF at) {
                 painter.drawImage(QRectF(at, size), image);
             }});
    }

    void add(const ReportBlock& block)
    {
        switch (block.kind) {
        case ReportBlockKind::Title:
            addText(qs(block.html), 18, true, 0, true);
            break;
        case ReportBlockKind::Heading:
            addText(qs(block.html), 12.5, true, 20, true);
            break;
        case ReportBlockKind::Text:
            // What introduces a table or a drawing stays with it.
            addText(qs(block.html), 9, false, 0, block.html.starts_with("<b>"));
            break;
        case ReportBlockKind::Table:
            addTable(block);
            break;
        case ReportBlockKind::Drawing:
            addDrawing(block.html);
            break;
        case ReportBlockKind::Picture:
            addPicture(block.html);
            break;
        }
    }

    void place()
    {
        m_pages.emplace_back();
        double y = 0;
        for (std::size_t i = 0; i < m_pieces.size(); ++i) {
            // A heading, its table's head and the first row are one.
            double wanted = m_pieces[i].height;
            for (std::size_t k = i; k + 1 < m_pieces.size() && m_pieces[k].keeps_next; ++k)
                wanted += m_pieces[k + 1].height;
            if (y > 0 && y + wanted > m_height) {
                m_pages.emplace_back();
                y = 0;
                if (const auto& head = m_pieces[i].head) {
                    m_pages.back().emplace_back(y, *head);
                    y += head->height;
                }
            }
            m_pages.back().emplace_back(y, m_pieces[i]);
            y += m_pieces[i].height;
        }
    }

    void paintFoot(QPainter& painter, std::size_t page) const
    {
        QFont font(u"Offshoot B612"_s);
        font.setPointSizeF(8);
        painter.setFont(font);
        painter.setPen(m_report.signed_off ? QColor(0x5A6972) : QColor(0xB4261B));
        // What must be read on every page comes first; a long title is cut, not that.
        const QString pageOf = tr("page %1 of %2").arg(page + 1).arg(m_pages.size());
        const QString foot =
            (m_report.signed_off ? pageOf : tr("NOT SIGNED OFF · ") + pageOf) + u" · "_s + qs(m_report.title);
        const QString cut = painter.fontMetrics().elidedText(foot, Qt::ElideRight, static_cast<int>(m_width));
        painter.drawText(QRectF(0, m_height + 12, m_width, 30), Qt::AlignLeft, cut);
    }

    const Job& m_job;
    QString m_folder; ///< of the job, for its photographs
    QPdfWriter& m_writer;
    double m_width;
    double m_height;
    const Report& m_report;
    std::vector<Piece> m_pieces;
    std::vector<std::vector<std::pair<double, Piece>>> m_pages;
};

} // namespace

QString comparisonHtml(const Evaluation& e) { return qs(tableHtml(comparisonTable(e))); }

QString unitsHtml(const Job& job, const Evaluation& e)
{
    const ReportBlock table = unitsTable(job, e);
    if (table.rows.empty())
        return u"<p>%1</p>"_s.arg(
            tr("No reading after the change yet. Another unit's readings carry its number: 24V 27.66 #2."));
    return qs(tableHtml(table));
}

QString reportHtml(const Job& job, const Evaluation& e, const ChainRun* run, const QString& folder)
{
    Report report = reportOf(job, e, run);
    // The page is passed on alone: its photographs go with it.
    for (ReportBlock& block : report.blocks) {
        if (block.kind != ReportBlockKind::Picture)
            continue;
        const QImage image = pinnedPhoto(job, folder, block.html);
        if (image.isNull()) {
            block.kind = ReportBlockKind::Text;
            block.html = tr("The photograph is gone.").toStdString();
            continue;
        }
        QBuffer jpeg;
        jpeg.open(QIODevice::WriteOnly);
        image.save(&jpeg, "JPG");
        block.html =
            u"data:image/jpeg;base64,%1"_s.arg(QString::fromLatin1(jpeg.data().toBase64())).toStdString();
    }
    return qs(offshoot::reportHtml(report));
}

QString labelSvg(const Job& job, const Evaluation& e, const QString& date)
{
    const auto& target = job.need.target;
    const TakenReading* finalReading = readingOf(e, "signoff.output");
    if (finalReading == nullptr)
        finalReading = readingOf(e, "bringup.full");
    const QString volts = finalReading != nullptr ? shown(finalReading->value, Quantity::Voltage)
                          : e.planned_v           ? qs(formatVolts(*e.planned_v))
                                                  : QString();
    QStringList changes;
    for (const std::string& change : plannedChanges(job))
        changes << escaped(change);
    const QString state = e.signed_off ? tr("changed %1").arg(date) : tr("NOT SIGNED OFF %1").arg(date);
    const QString amps =
        job.need.current_a ? qs(formatValue(*job.need.current_a, Quantity::Current)) : QString();
    return u"<svg xmlns='http://www.w3.org/2000/svg' width='70mm' height='36mm' viewBox='0 0 70 36'>"
           "<rect x='0.5' y='0.5' width='69' height='35' rx='2' fill='#FCFBF6' stroke='#1D2930' "
           "stroke-width='0.5'/>"
           "<g font-family='Offshoot B612, B612, sans-serif' fill='#1D2930'>"
           "<text x='4' y='7' font-size='4' font-weight='bold'>%1</text>"
           "<text x='4' y='17' font-size='8.5' font-weight='bold'>%2 %3</text>"
           "<text x='4' y='23' font-size='3.2'>%4</text>"
           "<text x='4' y='28' font-size='3.2'>%5</text>"
           "<text x='4' y='33' font-size='3.2'>%6</text></g></svg>\n"_s.arg(
               escaped(job.found.name.empty() ? job.title : job.found.name), volts, amps,
               target ? tr("window %1 to %2 V").arg(qs(fixed(target->min_v, 2)), qs(fixed(target->max_v, 2)))
                      : QString(),
               changes.isEmpty() ? QString() : tr("fitted: %1").arg(changes.join(u"; "_s)), state);
}

void writeReportPdf(const QString& path, const Job& job, const Evaluation& e, const ChainRun* run,
                    const QString& folder)
{
    QFile file(path);
    if (!file.open(QIODevice::WriteOnly))
        throw StoreError(tr("Cannot write %1: %2").arg(path, file.errorString()));
    QPdfWriter writer(&file);
    constexpr int dpi = 144;
    writer.setResolution(dpi);
    writer.setPageSize(QPageSize(QPageSize::A4));
    writer.setPageMargins(QMarginsF(16, 16, 16, 18), QPageLayout::Millimeter);
    writer.setTitle(qs(job.title));
    const Report report = reportOf(job, e, run);
    Pages(writer, report, job, folder).paint();
}

} // namespace offshoot::ui
