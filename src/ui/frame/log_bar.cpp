#include "ui/frame/log_bar.h"

#include "core/job/readings.h"
#include "core/values/format.h"
#include "ui/paint/marks.h"

#include <QCoreApplication>
#include <QInputMethodEvent>
#include <QKeyEvent>
#include <algorithm>
#include <tuple>
#include <utility>

namespace offshoot::ui {

using namespace Qt::StringLiterals;

LogBar::LogBar(JobSession& session, const bench::Meters& meters, Look& look, QWidget* parent)
    : QWidget(parent)
    , m_session(session)
    , m_meters(meters)
    , m_look(look)
    , m_entry(new QLineEdit(this))
{
    setAttribute(Qt::WA_OpaquePaintEvent);
    m_entry->setObjectName(u"logLine"_s);
    m_entry->setAccessibleName(tr("Log line"));
    m_entry->setPlaceholderText(tr("out 24.03 @0.5A · bulk 3.2V · earth 0.08R · note …"));
    m_entry->setMaxLength(500);
    m_entry->installEventFilter(this);
    connect(m_entry, &QLineEdit::textEdited, this, [this] {
        m_asked.clear();
        understand();
    });
    connect(m_entry, &QLineEdit::returnPressed, this, &LogBar::take);
    connect(&session, &JobSession::changed, this, [this] {
        listReadings();
        understand();
    });
    connect(&meters, &bench::Meters::changed, this, qOverload<>(&QWidget::update));
    connect(&look, &Look::changed, this, [this] {
        updateGeometry();
        layoutEntry();
    });
    listReadings();
}

QSize LogBar::sizeHint() const { return {m_look.px(1000), m_look.px(48)}; }

void LogBar::layoutEntry()
{
    m_entry->setGeometry(m_look.px(16), m_look.px(8), width() * 33 / 100, height() - m_look.px(16));
    m_entry->setStyleSheet(
        u"QLineEdit { border: 0; border-radius: 4px; background: %1; color: %2; font-weight: bold; }"_s.arg(
            m_look.colours().sheet.name(), m_look.colours().ink.name()));
    update();
}

void LogBar::resizeEvent(QResizeEvent* /*event*/) { layoutEntry(); }

bool LogBar::eventFilter(QObject* watched, QEvent* event)
{
    if (watched == m_entry && event->type() == QEvent::KeyPress) {
        const auto* key = static_cast<QKeyEvent*>(event);
        if (key->key() == Qt::Key_Tab && !m_entry->text().isEmpty() && !m_entry->text().contains(u' ')) {
            complete();
            return true;
        }
        // The key that leads here from anywhere is no entry of its own.
        if (key->text() == u"/"_s && m_entry->text().isEmpty())
            return true;
        if (key->key() == Qt::Key_Escape) {
            m_entry->clear();
            m_asked.clear();
            understand();
            if (parentWidget() != nullptr)
                parentWidget()->setFocus();
            return true;
        }
    }
    return QWidget::eventFilter(watched, event);
}

void LogBar::complete()
{
    const auto all = completions(m_entry->text().toStdString(), m_session.job());
    if (all.empty())
        return;
    m_entry->setText(qs(all.front()) + u' ');
    understand();
}

/// Underlines what does not read, in the box itself.
void LogBar::underline(const LogLine& line)
{
    QList<QInputMethodEvent::Attribute> attributes;
    if (!line.problem.empty() && line.problem_length > 0) {
        const QString before =
            QString::fromStdString(m_entry->text().toStdString().substr(0, line.problem_at));
        QTextCharFormat wave;
        wave.setUnderlineStyle(QTextCharFormat::SingleUnderline);
        wave.setUnderlineColor(m_look.colours().breaks);
        wave.setForeground(m_look.colours().breaks);
        attributes << QInputMethodEvent::Attribute(
            QInputMethodEvent::TextFormat, static_cast<int>(before.size()) - m_entry->cursorPosition(),
            static_cast<int>(line.problem_length), wave);
    }
    QInputMethodEvent event(QString(), attributes);
    QCoreApplication::sendEvent(m_entry, &event);
}

void LogBar::understand()
{
    const auto told = [this] { return std::tuple(m_echo, m_judged, m_wrong, m_verdict); };
    const auto before = told();
    m_judged = false;
    m_wrong = false;
    m_echo.clear();
    const QString text = m_entry->text();
    if (!text.trimmed().isEmpty()) {
        const LogLine line =
            readLogLine(text.toStdString(), m_session.job(), m_session.evaluation(), m_session.lastPoint());
        m_wrong = !line.problem.empty();
        if (m_wrong) {
            m_echo = qs(line.problem);
            if (!line.suggestion.empty())
                m_echo += tr(" · did you mean %1?").arg(qs(line.suggestion));
            const auto possible = completions(text.toStdString(), m_session.job());
            if (!possible.empty() && !text.contains(u' '))
                m_echo = tr("Tab: %1").arg(qs(possible.front()));
        } else {
            m_echo = qs(line.echo);
            if (line.judgement && line.window) {
                m_judged = true;
                m_verdict = line.judgement->verdict;
                m_echo += u" · "_s + verdictWord(m_verdict);
                if (line.window->min && line.window->max)
                    m_echo += tr(" %1 to %2")
                                  .arg(qs(significant(*line.window->min, 4)),
                                       qs(significant(*line.window->max, 4)));
                else if (line.window->max)
                    m_echo += tr(" up to %1").arg(qs(significant(*line.window->max, 3)));
            }
            if (!m_asked.isEmpty())
                m_echo = tr("%1 Enter again if so.").arg(qs(line.question));
        }
        underline(line);
    }
    m_entry->setAccessibleDescription(m_echo);
    if (before != told())
        update();
}

void LogBar::take()
{
    const QString text = m_entry->text();
    const LogLine line =
        readLogLine(text.toStdString(), m_session.job(), m_session.evaluation(), m_session.lastPoint());
    if (line.capture && line.problem.empty()) {
        m_entry->clear();
        understand();
        Q_EMIT captureWanted(*line.capture);
        return;
    }
    if (!line.entry || !line.problem.empty())
        return understand(); // what was typed stays, with what is wrong beside it
    if (!line.question.empty() && m_asked != text) {
        m_asked = text;
        return understand();
    }
    m_asked.clear();
    if (m_session.log(*line.entry))
        m_entry->clear();
    understand();
}

/// What the attached meters show now, boxed to tell it from what was logged; the left edge of what it took.
double LogBar::paintMeters(QPainter& painter, double right) const
{
    for (std::size_t which = bench::Meters::count; which-- > 0;)
        right = paintMeter(painter, right, m_meters.link(which));
    return right;
}

double LogBar::paintMeter(QPainter& painter, double right, const bench::MeterLink& link) const
{
    if (!link.attached())
        return right;
    const Colours& c = m_look.barColours();
    const auto& reading = link.reading();
    const QString value = !reading ? u"–"_s
                          : reading->quantity == Quantity::Voltage
                              ? qs(formatVolts(reading->value))
                              : qs(formatValue(reading->value, reading->quantity, 4));
    const QString text = tr("meter %1").arg(value);
    const double wide = textWidth(text, m_look.font(14, true)) + m_look.px(20);
    const QRectF box(right - wide, m_look.px(9), wide, height() - m_look.px(18));
    painter.setPen(QPen(c.softInk, 1));
    painter.setBrush(Qt::NoBrush);
    painter.drawRoundedRect(box, 4, 4);
    paintText(painter, box, text, m_look.font(14, true), c.barText, Qt::AlignCenter);
    return right - wide - m_look.px(16);
}

/// The newest readings first, as many as may stand in the widest window.
void LogBar::listReadings()
{
    constexpr qsizetype most = 60;
    const std::vector<LogEntry>& log = m_session.job().log;
    const auto struck = struckIds(log);
    decltype(m_readings) readings;
    for (auto entry = log.rbegin(); entry != log.rend() && readings.size() < most; ++entry) {
        if (entry->kind != LogKind::Reading || struck.contains(entry->id))
            continue;
        QString text =
            qs(*entry->point) + u' ' +
            qs(entry->quantity == Quantity::Voltage ? formatVolts(*entry->value)
                                                    : formatValue(*entry->value, *entry->quantity));
        if (entry->load)
            text += u" @"_s + qs(formatValue(entry->load->value, entry->load->quantity));
        if (entry->unit)
            text += u" #"_s + qs(*entry->unit);
        readings.emplace_back(text, entry->stage == ReadingStage::Found);
    }
    if (std::exchange(m_readings, readings) != readings)
        update();
}

void LogBar::paintReadings(QPainter& painter, double left) const
{
    const Colours& c = m_look.barColours();
    double x = width() - m_look.px(40);
    paintText(painter, QRectF(x, 0, m_look.px(30), height()), u"/"_s, m_look.font(15, true), c.softInk,
              Qt::AlignCenter);
    x = paintMeters(painter, x);
    for (const auto& [text, found] : m_readings) {
        const double wide = textWidth(text, m_look.font(13)) + m_look.px(18);
        x -= wide;
        if (x < left)
            break;
        paintText(painter, QRectF(x, 0, wide, height()), text, m_look.font(13), found ? c.found : c.measured);
    }
}

void LogBar::paintEvent(QPaintEvent* /*event*/)
{
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    const Colours& c = m_look.barColours();
    painter.fillRect(rect(), m_look.colours().bar);
    double x = m_entry->geometry().right() + m_look.px(14);
    if (m_echo.isEmpty()) {
        paintReadings(painter, x);
        return;
    }
    if (m_judged) {
        paintVerdict(painter, m_verdict, {x + m_look.px(7), height() / 2.0}, m_look.px(13), c);
        x += m_look.px(22);
    }
    paintText(painter, QRectF(x, 0, width() - x - m_look.px(16), height()), m_echo, m_look.font(14),
              m_wrong ? c.breaks : c.barText);
}

} // namespace offshoot::ui
