#include "ui/signoff/report.h"

#include "core/job/workspaces.h"
#include "core/values/format.h"
#include "store/job_store.h"
#include "ui/frame/consequences_panel.h"
#include "ui/look.h"
#include "ui/paint/marks.h"
#include "ui/procedure/procedure_view.h"
#include "ui/retune/divider_drawing.h"

#include <QAbstractTextDocumentLayout>
#include <QCoreApplication>
#include <QDateTime>
#include <QFile>
#include <QPainter>
#include <QPdfWriter>
#include <QTextDocument>
#include <set>

namespace offshoot::ui {

using namespace Qt::StringLiterals;

namespace {

QString tr(const char* text) { return QCoreApplication::translate("Report", text); }

QString escaped(const std::string& text) { return qs(text).toHtmlEscaped(); }

QString shown(double value, Quantity quantity)
{
    return qs(quantity == Quantity::Voltage ? formatVolts(value) : formatValue(value, quantity));
}

QString when(double time_s)
{
    return QDateTime::fromMSecsSinceEpoch(static_cast<qint64>(time_s * 1000)).toString(u"yyyy-MM-dd HH:mm"_s);
}

QString cell(const QString& text, const QString& style = {})
{
    return u"<td style='%1'>%2</td>"_s.arg(style, text);
}

QString row(std::initializer_list<QString> cells)
{
    return u"<tr>"_s + QStringList(cells).join(QString()) + u"</tr>"_s;
}

QString mark(Verdict verdict)
{
    static const char* const shapes[] = {"●", "◆", "▼", "▢"};
    return u"<span style='color:%1'>%2 %3</span>"_s.arg(lightColours().verdict(verdict).name(),
                                                        QString::fromUtf8(shapes[static_cast<int>(verdict)]),
                                                        verdictWord(verdict));
}

/// The latest judged reading of a step.
const TakenReading* readingOf(const Evaluation& e, const std::string& step)
{
    for (const StepView& view : e.steps)
        if (view.step.id == step && !view.readings.empty() && view.readings.front())
            return &*view.readings.front();
    return nullptr;
}

QString consequencesHtml(const Job& job, const Evaluation& e)
{
    QString html = u"<table width='100%' cellspacing='0' cellpadding='3'>"_s;
    for (const ConsequenceRow& r : e.consequences.rows) {
        QString working = qs(r.formula).toHtmlEscaped();
        if (!r.working.empty())
            working += u" = "_s + escaped(r.working);
        for (const std::string& assumed : r.assumed)
            working += tr("; assumed: ") + escaped(assumed);
        html += row({cell(partOf(r, job).toHtmlEscaped() + u", "_s + escaped(r.quantity)),
                     cell(figureOf(r).toHtmlEscaped()), cell(mark(r.verdict)),
                     cell(u"<small>%1</small>"_s.arg(working))});
    }
    return html + u"</table>"_s;
}

QString readingsHtml(const Job& job)
{
    const auto struck = struckIds(job.log);
    QString html = u"<table width='100%' cellspacing='0' cellpadding='3'>"_s;
    for (const LogEntry& entry : job.log) {
        if (entry.kind != LogKind::Reading)
            continue;
        QString value = shown(*entry.value, *entry.quantity);
        if (entry.uncertainty)
            value += u" ± "_s + qs(formatValue(*entry.uncertainty, *entry.quantity, 2));
        if (struck.contains(entry.id))
            value = u"<s>%1</s> "_s.arg(value) + tr("struck");
        const QString load =
            entry.load ? u"@ "_s + shown(entry.load->value, entry.load->quantity) : QString();
        static const char* const stages[] = {"found", "planned check", "measured"};
        html +=
            row({cell(escaped(entry.id)), cell(when(entry.time_s)), cell(escaped(*entry.point)), cell(value),
                 cell(load), cell(entry.stage ? tr(stages[static_cast<int>(*entry.stage)]) : QString())});
    }
    return html + u"</table>"_s;
}

QString eventsHtml(const Job& job)
{
    QString html;
    for (const LogEntry& entry : job.log)
        if (entry.kind == LogKind::Note && entry.text)
            html += u"<li>%1 %2</li>"_s.arg(when(entry.time_s), escaped(*entry.text));
    return html.isEmpty() ? QString() : u"<h2>%1</h2><ul>%2</ul>"_s.arg(tr("Notes"), html);
}

QString cautionsHtml(const Evaluation& e)
{
    std::set<Caution> all;
    for (const StepView& view : e.steps)
        all.insert(view.step.cautions.begin(), view.step.cautions.end());
    QString html;
    for (Caution caution : all)
        html += u"<li>%1</li>"_s.arg(qs(cautionText(caution)).toHtmlEscaped());
    return u"<ul>%1</ul>"_s.arg(html);
}

/// The divider's part of the change: what it gives, and what a lifted joint does.
QString dividerHtml(const DividerOption& o)
{
    return tr("<p><b>%1 %2</b>: %3, worst case %4 to %5 V. If the joint opens: %6.</p>")
        .arg(escaped(o.network.prettyText()), methodPhrase(o.method), qs(formatVolts(o.v)),
             qs(fixed(o.worst_min_v, 2)), qs(fixed(o.worst_max_v, 2)), outcomePhrase(o.if_open));
}

QString changeHtml(const Job& job, const Evaluation& e)
{
    if (!job.plan.changesAnything())
        return tr("<p>Nothing is planned.</p>");
    QString html = u"<ul>"_s;
    for (const std::string& change : plannedChanges(job))
        html += u"<li>%1</li>"_s.arg(escaped(change));
    html += u"</ul>"_s;
    if (e.planned)
        html += dividerHtml(e.planned->option);
    html += u"<p>%1:</p><ul>"_s.arg(tr("Parts used"));
    if (e.planned)
        for (const StockItem& part : e.planned->option.parts)
            html += u"<li>%1, %2%3</li>"_s.arg(
                qs(formatOhms(part.ohm)), qs(formatPercent(part.tolerance)),
                part.power_w ? u", "_s + qs(formatValue(*part.power_w, Quantity::Power)) : QString());
    for (const Refit& refit : job.plan.refits)
        html += u"<li>%1: %2 %3</li>"_s.arg(
            qs(rowInfo(refit.row).part), qs(rowInfo(refit.row).rating),
            rowInfo(refit.row).unit ? shown(refit.rating, *rowInfo(refit.row).unit) : QString());
    html += u"</ul>"_s;
    for (const Acceptance& a : job.plan.accepted)
        html += tr("<p>Accepted: %1. Reason: %2</p>")
                    .arg(a.part.empty() ? qs(rowInfo(a.row).part) : escaped(a.part), escaped(a.reason));
    return html;
}

} // namespace

QString comparisonHtml(const Evaluation& e)
{
    struct Line
    {
        QString name;
        std::string found;
        std::string measured;
    };
    const Line lines[] = {{tr("behind the lamp"), "found.lamp_output", "bringup.lamp_output"},
                          {tr("no load"), "found.no_load", "bringup.no_load"},
                          {tr("light load"), "found.light", "bringup.light"},
                          {tr("half load"), "found.half", "bringup.half"},
                          {tr("full load"), "found.full", "bringup.full"},
                          {tr("real load"), "", "signoff.output"},
                          {tr("ripple, full load"), "", "bringup.ripple"}};
    const Colours& c = lightColours();
    QString html =
        u"<table width='100%' cellspacing='0' cellpadding='5'><tr><td></td><td><span style='color:%1'>%2</span></td><td><b style='color:%3'>%4</b></td><td><span style='color:%5'>%6</span></td><td></td><td></td></tr>"_s
            .arg(c.found.name(), tr("found"), c.planned.name(), tr("planned"), c.measured.name(),
                 tr("measured"));
    const auto text = [](const TakenReading* r) {
        return r == nullptr
                   ? u"–"_s
                   : u"%1 ± %2"_s.arg(shown(r->value, r->quantity), qs(formatValue(r->u, r->quantity, 2)));
    };
    for (const Line& line : lines) {
        const TakenReading* found = readingOf(e, line.found);
        const TakenReading* measured = readingOf(e, line.measured);
        QString planned;
        for (const StepView& view : e.steps)
            if (view.step.id == line.measured && !view.step.asks.empty())
                planned = windowText(view.step.asks.front());
        QString difference;
        if (found != nullptr && measured != nullptr) {
            const auto judged = judgeReading(
                {.value = measured->value,
                 .uncertainty = measured->u,
                 .other = ReadingJudgeInput::Other{.value = found->value, .uncertainty = found->u}});
            difference = judged.other->difference_verdict == DifferenceVerdict::Real
                             ? tr("changed by %1").arg(qs(formatVolts(judged.other->difference)))
                             : tr("no difference beyond the meter");
        }
        html += row({cell(line.name), cell(text(found)),
                     cell(u"<b>%1</b>"_s.arg(planned.isEmpty() ? u"–"_s : planned)), cell(text(measured)),
                     cell(measured != nullptr ? mark(measured->judgement.verdict) : QString()),
                     cell(difference)});
    }
    return html + u"</table>"_s;
}

QString unitsHtml(const Job& job, const Evaluation& e)
{
    const BatchView view = batchView(job, e);
    if (view.rows.empty())
        return u"<p>%1</p>"_s.arg(
            tr("No reading after the change yet. Another unit's readings carry its number: 24V 27.66 #2."));
    QString head = cell(QString());
    for (const std::string& unit : view.units)
        head += cell(u"<b>%1</b>"_s.arg(tr("unit %1").arg(escaped(unit))));
    QString html = u"<table width='100%' cellspacing='0' cellpadding='4'><tr>%1%2%3</tr>"_s.arg(
        head, cell(tr("spread")), cell(tr("window")));
    for (const BatchRow& r : view.rows) {
        QString line = cell(escaped(r.point + (r.load.empty() ? "" : " " + r.load)));
        for (std::size_t i = 0; i < r.values.size(); ++i)
            line += cell(r.values[i] ? shown(*r.values[i], r.quantity) + u' ' +
                                           (r.window ? mark(r.verdicts[i]) : QString())
                                     : u"–"_s);
        Asked asked{r.point, r.quantity, r.window, {}, {}};
        html += row({line, cell(r.spread ? shown(*r.spread, r.quantity) : u"–"_s),
                     cell(r.window ? windowText(asked) : u"–"_s)});
    }
    return html + u"</table>"_s;
}

QString reportHtml(const Job& job, const Evaluation& e)
{
    QString html =
        u"<!DOCTYPE html><html lang='en'><head><meta charset='utf-8'><title>%1</title><style>body { font-family: Offshoot B612, B612, sans-serif; font-size: 10pt; color: #1D2930; } h1 { font-size: 18pt; } h2 { font-size: 13pt; margin-top: 14pt; } td { border-bottom: 1px solid #D5CFBF; vertical-align: top; }</style></head><body>"_s
            .arg(escaped(job.title));
    html += u"<h1>%1</h1>"_s.arg(escaped(job.title));
    html += e.signed_off ? tr("<p>Signed off.</p>")
                         : u"<p style='color:#B4261B'><b>%1</b></p>"_s.arg(tr("Not signed off."));
    html += u"<h2>%1</h2><p>%2</p>"_s.arg(tr("Need"), escaped(e.need_line));
    if (!job.need.why.empty())
        html += u"<p>%1</p>"_s.arg(escaped(job.need.why));
    html +=
        u"<h2>%1</h2><p>%2: "_s.arg(tr("Found"), escaped(job.found.name.empty() ? "supply" : job.found.name));
    if (e.divider)
        html += tr("reference %1, divider %2 over %3, %4.")
                    .arg(qs(significant(e.divider->reference.v_ref_v, 4)) + u" V"_s,
                         qs(formatOhms(e.divider->top.ohm())), qs(formatOhms(e.divider->bottom.ohm())),
                         qs(formatPercent(e.divider->found_tolerance)));
    html += u"</p><h2>%1</h2>%2"_s.arg(tr("Change"), changeHtml(job, e));
    html += u"<h2>%1</h2>%2"_s.arg(tr("Before and after"), comparisonHtml(e));
    if (batchView(job, e).units.size() > 1)
        html += u"<h2>%1</h2>%2"_s.arg(tr("Unit beside unit"), unitsHtml(job, e));
    html += u"<h2>%1</h2>%2"_s.arg(tr("What it drags along"), consequencesHtml(job, e));
    html += u"<h2>%1</h2>%2%3"_s.arg(tr("Every reading"), readingsHtml(job), eventsHtml(job));
    if (!e.blocks.empty() && !e.signed_off) {
        html += u"<h2>%1</h2><ul>"_s.arg(tr("Open points"));
        for (const std::string& block : e.blocks)
            html += u"<li>%1</li>"_s.arg(escaped(block));
        html += u"</ul>"_s;
    }
    html += u"<h2>%1</h2>%2"_s.arg(tr("Cautions"), cautionsHtml(e));
    return html + u"</body></html>"_s;
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

void writeReportPdf(const QString& path, const Job& job, const Evaluation& e)
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
    QTextDocument document;
    document.documentLayout()->setPaintDevice(&writer);
    document.setDefaultFont(QFont(u"Offshoot B612"_s, 9));
    document.setHtml(reportHtml(job, e));
    const QRectF page(0, 0, writer.width(), writer.height() - 40);
    document.setPageSize(page.size());
    QPainter painter(&writer);
    const int pages = document.pageCount();
    for (int i = 0; i < pages; ++i) {
        if (i > 0)
            writer.newPage();
        painter.save();
        painter.translate(0, -i * page.height());
        document.drawContents(&painter, QRectF(0, i * page.height(), page.width(), page.height()));
        painter.restore();
        painter.setFont(QFont(u"Offshoot B612"_s, 8));
        painter.setPen(e.signed_off ? QColor(0x5A6972) : QColor(0xB4261B));
        // What must be read on every page comes first; a long title is cut, not that.
        const QString pageOf = tr("page %1 of %2").arg(i + 1).arg(pages);
        const QString foot =
            (e.signed_off ? pageOf : tr("NOT SIGNED OFF · ") + pageOf) + u" · "_s + qs(job.title);
        const QString cut =
            painter.fontMetrics().elidedText(foot, Qt::ElideRight, static_cast<int>(page.width()));
        painter.drawText(QRectF(0, page.height() + 8, page.width(), 30), Qt::AlignLeft, cut);
    }
}

} // namespace offshoot::ui
