#include "ui/evidence/evidence_page.h"

#include "core/values/format.h"
#include "ui/fields/job_table.h"
#include "ui/paint/axes.h"
#include "ui/paint/marks.h"

#include <QCoreApplication>
#include <QHBoxLayout>
#include <QLabel>
#include <QPainter>
#include <QRegularExpression>
#include <QScrollArea>
#include <QVBoxLayout>
#include <algorithm>

namespace offshoot::ui {

using namespace Qt::StringLiterals;

namespace {

QString tr(const char* text) { return QCoreApplication::translate("EvidencePage", text); }

const QStringList& kindNames()
{
    static const QStringList names{tr("bulk capacitor"), tr("bulk pair in series"),
                                   tr("X capacitor"),    tr("varistor, AC"),
                                   tr("breaker"),        tr("fuse"),
                                   tr("transformer"),    tr("label"),
                                   tr("manual"),         tr("sibling unit")};
    return names;
}

Clue& clue(Job& job, std::size_t row) { return job.found.mains_side.clues.at(row); }

/// Drops what belongs to another kind, so that the list stays a document.
void keepOwn(Clue& c)
{
    if (isPaper(c.kind)) {
        c.rating_v.reset();
        c.min_v = c.min_v.value_or(220);
        c.max_v = c.max_v.value_or(std::max(240.0, *c.min_v));
    } else {
        c.min_v.reset();
        c.max_v.reset();
        c.f_min_hz.reset();
        c.f_max_hz.reset();
    }
    if (c.kind == ClueKind::BulkCapSeries)
        c.link = c.link.value_or(PairLink::Unknown);
    else
        c.link.reset();
    if (c.kind != ClueKind::TransformerPrimary)
        c.f_rated_hz.reset();
    else if (c.rating_v && !c.f_rated_hz)
        c.f_rated_hz = 50;
}

TableColumn choice(const QString& title, const QStringList& words, const std::function<int(const Clue&)>& get,
                   const std::function<void(Clue&, int)>& set)
{
    return {
        .title = title,
        .get = [words, get](const Job& job,
                            std::size_t row) { return words.value(get(job.found.mains_side.clues.at(row))); },
        .set = [words, set](Job& job, std::size_t row, const QString& text) -> QString {
            const auto at = words.indexOf(text);
            if (at < 0)
                return tr("not one of the choices");
            set(clue(job, row), static_cast<int>(at));
            keepOwn(clue(job, row));
            return {};
        },
        .choices = words,
        .narrow = true};
}

TableColumn number(const QString& title, Quantity quantity, std::optional<double> Clue::*member)
{
    TableColumn column =
        numberColumn(title, quantity, [member](Job& job, std::size_t row) -> std::optional<double>& {
            return clue(job, row).*member;
        });
    const auto set = column.set;
    column.set = [set, member](Job& job, std::size_t row, const QString& text) -> QString {
        QString wrong = set(job, row, text);
        if (member == &Clue::rating_v)
            keepOwn(clue(job, row));
        return wrong;
    };
    return column;
}

/// "50" for a transformer; for papers the range they name: "50–60". Others have none.
TableColumn frequencyColumn()
{
    return {.title = tr("at Hz"),
            .get =
                [](const Job& job, std::size_t row) {
                    const Clue& c = job.found.mains_side.clues.at(row);
                    const auto hertz = [](const std::optional<double>& f) {
                        return f ? qs(significant(*f, 4)) : QString();
                    };
                    if (!isPaper(c.kind))
                        return hertz(c.f_rated_hz);
                    const QString from = hertz(c.f_min_hz);
                    const QString to = hertz(c.f_max_hz);
                    return from == to ? from : from + u'–' + to;
                },
            .set = [](Job& job, std::size_t row, const QString& text) -> QString {
                static const QRegularExpression between(u"[-–/]"_s);
                Clue& c = clue(job, row);
                std::vector<double> hertz;
                QString plain = text;
                for (const QString& part : plain.remove(u"Hz"_s).split(between, Qt::SkipEmptyParts)) {
                    const auto f = parseValue(part.trimmed().toStdString(), Quantity::Frequency);
                    if (!f)
                        return qs(f.problem().message);
                    hertz.push_back(f->value);
                }
                const auto at = [&hertz](std::size_t i) {
                    return hertz.empty() ? std::nullopt : std::optional(hertz[std::min(i, hertz.size() - 1)]);
                };
                if (hertz.size() > 2 || (hertz.size() == 2 && !isPaper(c.kind)))
                    return tr("one frequency, or of papers two: 50–60");
                if (isPaper(c.kind)) {
                    c.f_min_hz = at(0);
                    c.f_max_hz = at(1);
                } else if (c.kind == ClueKind::TransformerPrimary) {
                    c.f_rated_hz = at(0);
                } else if (!hertz.empty()) {
                    return tr("this part does not mind the frequency");
                }
                return {};
            },
            .narrow = true};
}

TableSpec cluesSpec()
{
    return {
        .name = tr("What was read"),
        .one = tr("clue"),
        .count = [](const Job& job) { return job.found.mains_side.clues.size(); },
        .add =
            [](Job& job) { job.found.mains_side.clues.push_back({.part = "C1", .kind = ClueKind::BulkCap}); },
        .remove =
            [](Job& job, std::size_t row) {
                auto& clues = job.found.mains_side.clues;
                clues.erase(clues.begin() + static_cast<std::ptrdiff_t>(row));
            },
        .columns = {textColumn(
                        tr("part"), [](Job& j, std::size_t r) -> std::string& { return clue(j, r).part; },
                        false),
                    choice(
                        tr("is a"), kindNames(), [](const Clue& c) { return static_cast<int>(c.kind); },
                        [](Clue& c, int at) { c.kind = static_cast<ClueKind>(at); }),
                    choice(
                        tr("seen"), {tr("not yet"), tr("yes")}, [](const Clue& c) { return c.seen ? 1 : 0; },
                        [](Clue& c, int at) { c.seen = at == 1; }),
                    number(tr("rated"), Quantity::Voltage, &Clue::rating_v),
                    choice(
                        tr("pair is"), {tr("straight"), tr("a doubler"), tr("not known"), QString()},
                        [](const Clue& c) { return c.link ? static_cast<int>(*c.link) : 3; },
                        [](Clue& c, int at) {
                            if (at < 3)
                                c.link = static_cast<PairLink>(at);
                        }),
                    number(tr("from"), Quantity::Voltage, &Clue::min_v),
                    number(tr("to"), Quantity::Voltage, &Clue::max_v), frequencyColumn()}};
}

} // namespace

EvidencePicture::EvidencePicture(Look& look, QWidget* parent)
    : QWidget(parent)
    , m_look(look)
{
    setAccessibleName(
        QCoreApplication::translate("EvidencePage", "What each part permits, over the mains voltage"));
}

void EvidencePicture::show(const EvidenceView& view, bool mainsGiven)
{
    m_view = view;
    m_mainsGiven = mainsGiven;
    setAccessibleDescription(qs(view.sentence));
    setMinimumHeight(sizeHint().height());
    update();
}

QSize EvidencePicture::sizeHint() const
{
    return {m_look.px(420), m_look.px(44 + 26.0 * static_cast<double>(m_view.input.clues.size()))};
}

double EvidencePicture::x(double volts, double high) const
{
    const double left = m_look.px(150);
    return left + volts / high * (width() - left - m_look.px(20));
}

void EvidencePicture::paintClue(QPainter& painter, std::size_t at, double top, double high) const
{
    const Colours& c = m_look.colours();
    const JudgedClue& clue = m_view.result.clues[at];
    const double h = m_look.px(12);
    const double middle = top + m_look.px(11);
    const Verdict verdict = clue.verdict();
    paintVerdict(painter, verdict, {double(m_look.px(8)), middle}, m_look.px(11), c);
    paintText(painter, QRectF(m_look.px(20), top, m_look.px(124), m_look.px(22)), qs(clue.part),
              m_look.font(13, true), c.ink);
    const QColor colour = c.verdict(verdict);
    if (clue.says == Says::Silent) {
        painter.setPen(QPen(c.softInk, 1.2, Qt::DashLine));
        painter.setBrush(Qt::NoBrush);
        painter.drawRect(QRectF(x(0, high), middle - h / 2, x(high, high) - x(0, high), h));
        paintText(painter, QRectF(x(0, high) + m_look.px(8), top, m_look.px(240), m_look.px(22)),
                  QCoreApplication::translate("EvidencePage", "not read yet"), m_look.caption(), c.softInk);
        return;
    }
    // In terms of the nominal mains: what it permits there.
    const double scale = m_view.input.target.v_v / *clue.judged_v;
    const double from = x(std::min(clue.floor_v.value_or(0) * scale, high), high);
    const double to = x(std::min(*clue.ceiling_v * scale, high), high);
    QColor fill = colour;
    fill.setAlpha(m_look.dark() ? 120 : 90);
    painter.setPen(QPen(colour, 1.4));
    painter.setBrush(isPaper(clue.kind) ? QBrush(fill, Qt::BDiagPattern) : QBrush(fill));
    painter.drawRect(QRectF(from, middle - h / 2, to - from, h));
    const QString figure = qs(significant(*clue.ceiling_v * scale, 3)) + u" V"_s;
    const double wide = textWidth(figure, m_look.caption()) + 6;
    const bool inside = to + wide > width();
    paintText(painter, QRectF(inside ? to - wide : to + 4, top, wide, m_look.px(22)), figure,
              m_look.caption(), inside ? c.ink : colour);
}

void EvidencePicture::paintEvent(QPaintEvent* /*event*/)
{
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    const Colours& c = m_look.colours();
    const MainsTarget& target = m_view.input.target;
    double high = target.v_v * 1.6;
    for (const JudgedClue& clue : m_view.result.clues)
        if (clue.ceiling_v)
            high = std::max(high,
                            std::min(*clue.ceiling_v * target.v_v / *clue.judged_v * 1.08, target.v_v * 2.4));
    const double bottom = m_look.px(6 + 26.0 * static_cast<double>(m_view.result.clues.size()));
    if (m_mainsGiven) {
        QColor band = c.planned;
        band.setAlpha(m_look.dark() ? 70 : 44);
        const double low = target.v_v * (1 - target.spread);
        const double top = target.v_v * (1 + target.spread);
        painter.fillRect(QRectF(x(low, high), 0, x(top, high) - x(low, high), bottom), band);
        painter.setPen(QPen(c.planned, 1.6, Qt::DashLine));
        painter.drawLine(QPointF(x(target.v_v, high), 0), QPointF(x(target.v_v, high), bottom));
    }
    for (std::size_t i = 0; i < m_view.result.clues.size(); ++i)
        paintClue(painter, i, m_look.px(4 + 26.0 * static_cast<double>(i)), high);
    painter.setPen(QPen(c.ink, 1.2));
    painter.drawLine(QPointF(x(0, high), bottom), QPointF(x(high, high), bottom));
    for (const double v : ticks(0, high, niceStep(high, 7))) {
        painter.setPen(QPen(c.ink, 1));
        painter.drawLine(QPointF(x(v, high), bottom), QPointF(x(v, high), bottom + m_look.px(5)));
        paintText(painter,
                  QRectF(x(v, high) - m_look.px(40), bottom + m_look.px(6), m_look.px(80), m_look.px(18)),
                  qs(significant(v, 4)), m_look.caption(), c.softInk, Qt::AlignCenter);
    }
    paintText(painter, QRectF(0, bottom + m_look.px(6), m_look.px(140), m_look.px(18)),
              QCoreApplication::translate("EvidencePage", "nominal mains, V"), m_look.caption(), c.softInk);
}

EvidencePage::EvidencePage(JobSession& session, Look& look, QWidget* parent)
    : WorkspacePage(session, look, parent)
    , m_picture(new EvidencePicture(look))
    , m_notes(richText())
{
    auto* holder = new QWidget;
    auto* column = new QVBoxLayout(holder);
    column->setContentsMargins(0, 0, look.px(6), 0);
    column->setSpacing(look.px(10));
    column->addWidget(m_picture);
    column->addWidget(m_notes);
    column->addWidget(new JobTable(cluesSpec(), session, look));
    column->addWidget(
        caption(EvidencePage::tr("Bulk capacitor and fuse of the path stand here by themselves. A varistor's "
                                 "AC voltage counts, not its 1 mA voltage.")));
    column->addStretch();
    body().addWidget(scrolling(holder));
    follow();
}

void EvidencePage::refresh()
{
    m_view = evidenceView(m_session.job());
    setSentence(qs(m_view.sentence));
    m_picture->show(m_view, !m_session.job().need.mains.v_assumed);
    QString html = m_view.next.empty() ? QString() : u"<b>%1</b>"_s.arg(qs(m_view.next).toHtmlEscaped());
    for (const Contradiction& contradiction : m_view.result.contradictions)
        html += u"<br><span style='color:%1'>▼</span> %2"_s.arg(
            m_look.colours().breaks.name(), qs(contradictionText(contradiction)).toHtmlEscaped());
    m_notes->setText(html);
    m_notes->setVisible(!html.isEmpty());
}

} // namespace offshoot::ui
