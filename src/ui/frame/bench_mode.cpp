#include "ui/frame/bench_mode.h"

#include "core/values/format.h"
#include "ui/paint/marks.h"
#include "ui/procedure/procedure_view.h"

#include <QApplication>
#include <QKeyEvent>
#include <QLineEdit>

namespace offshoot::ui {

using namespace Qt::StringLiterals;

namespace {

/// Steps that change the isolation state are declared by hand, never by Space or by a meter.
bool byHandOnly(StepKind kind)
{
    return kind == StepKind::Isolate || kind == StepKind::Power || kind == StepKind::Prove;
}

QString shownValue(double value, Quantity quantity)
{
    return qs(quantity == Quantity::Voltage ? formatVolts(value) : formatValue(value, quantity));
}

} // namespace

BenchMode::BenchMode(JobSession& session, bench::Meters& meters, Look& look, QWidget* parent)
    : QWidget(parent)
    , m_session(session)
    , m_meters(meters)
    , m_look(look)
    , m_entry(new QLineEdit(this))
{
    setObjectName(u"benchMode"_s);
    setFocusPolicy(Qt::StrongFocus);
    setAccessibleName(tr("Bench mode"));
    m_entry->setPlaceholderText(tr("type the reading, Enter logs it"));
    m_entry->setAccessibleName(tr("Reading"));
    connect(m_entry, &QLineEdit::returnPressed, this, &BenchMode::takeTyped);
    connect(&meters, &bench::Meters::changed, this, &BenchMode::follow);
    connect(&session, &JobSession::changed, this, qOverload<>(&QWidget::update));
    connect(&session, &JobSession::problem, this, [this](const QString& text) {
        m_message = text;
        update();
    });
}

const StepView* BenchMode::current() const
{
    for (const StepView& view : m_session.evaluation().steps)
        if (view.status != StepStatus::Done)
            return &view;
    return nullptr;
}

QString BenchMode::hint() const
{
    const StepView* view = current();
    if (view == nullptr)
        return tr("Every step is done. Esc goes back.");
    if (byHandOnly(view->step.kind))
        return tr("This changes the isolation state: declare it by hand, Esc goes back to the window.");
    if (live())
        return tr("Space takes the meter's reading; so does holding the probes still on the point.");
    if (!view->refusal.empty())
        return qs(view->refusal);
    return tr("Space: done, next");
}

const Asked* BenchMode::wanted() const
{
    const StepView* view = current();
    if (view == nullptr || !allowedIn(view->step.kind, m_session.evaluation().isolation.state))
        return nullptr;
    for (std::size_t i = 0; i < view->step.asks.size(); ++i)
        if (!view->readings[i] || view->readings[i]->judgement.verdict == Verdict::Breaks)
            return &view->step.asks[i];
    return nullptr;
}

std::optional<double> BenchMode::live() const
{
    const Asked* asked = wanted();
    const auto reading = asked != nullptr ? m_meters.of(asked->quantity) : std::nullopt;
    return reading ? std::optional(reading->value) : std::nullopt;
}

void BenchMode::accept()
{
    const StepView* view = current();
    if (view == nullptr || byHandOnly(view->step.kind))
        return;
    m_message.clear();
    if (const auto value = live())
        return takeLive(*value);
    m_session.tick(view->step.id);
}

/// Every new reading of the meter: one that rests on the point is taken.
void BenchMode::follow()
{
    update();
    const StepView* view = current();
    if (view == nullptr)
        return;
    if (!m_following.empty() && m_following != view->step.id)
        m_steady.skipResting(); // what rested on the last point says nothing of this one
    m_following = view->step.id;
    if (!m_meters.any())
        m_steady = {}; // probes lifted, or the meter gone
    const auto value = live();
    if (!value || byHandOnly(view->step.kind))
        return;
    const Asked& asked = *wanted();
    const auto rested = m_steady.take(m_session.now(), *value, asked.quantity);
    if (rested && probesOn(*rested, asked.quantity, asked.window))
        takeLive(*rested);
}

void BenchMode::takeLive(double value)
{
    const Asked& asked = *wanted();
    constexpr int digits = 6;
    // With a second meter in amperes the load stands behind the reading by itself.
    const QString behind = asked.quantity == Quantity::Voltage ? m_meters.behind() : QString();
    if (logText(qs(asked.name()) + u' ' + qs(formatValue(value, asked.quantity, digits)) + behind))
        QApplication::beep(); // eyes may be on the probes
}

bool BenchMode::logText(const QString& text)
{
    const Asked* asked = wanted();
    // At the bench a bare number answers the step at hand.
    const std::string& point = asked != nullptr ? asked->point : m_session.lastPoint();
    const LogLine line = readLogLine(text.toStdString(), m_session.job(), m_session.evaluation(), point);
    bool logged = false;
    if (line.capture)
        m_message = tr("A capture is taken in on the log line of the window.");
    else if (!line.entry || !line.problem.empty())
        m_message = line.problem.empty() ? tr("type a reading") : qs(line.problem);
    else if (!line.question.empty())
        m_message = qs(line.question) + tr(" Use the log line of the window.");
    else if (line.entry->kind == LogKind::Live || line.entry->kind == LogKind::SourceOff)
        m_message = tr("The isolation state is declared in the window.");
    else if (m_session.log(*line.entry)) {
        m_message = qs(line.echo);
        logged = true;
    }
    update();
    return logged;
}

void BenchMode::takeTyped()
{
    if (!logText(m_entry->text()))
        return;
    m_entry->clear();
    setFocus();
}

void BenchMode::keyPressEvent(QKeyEvent* event)
{
    if (event->key() == Qt::Key_Escape || event->key() == Qt::Key_F11)
        Q_EMIT closed();
    else if (event->key() == Qt::Key_Space)
        accept();
    else if (event->key() == Qt::Key_Slash)
        m_entry->setFocus();
    else if (!event->text().isEmpty() && event->text().at(0).isPrint()) {
        m_entry->setFocus();
        m_entry->insert(event->text());
    } else
        QWidget::keyPressEvent(event);
}

void BenchMode::resizeEvent(QResizeEvent* /*event*/)
{
    m_entry->setFont(m_look.font(30));
    m_entry->setGeometry(m_look.px(60), height() - m_look.px(84), width() / 2, m_look.px(54));
    m_entry->setStyleSheet(u"font-size: %1px;"_s.arg(m_look.px(28)));
}

/// The reading of the step, or what the meter shows now, beside its window.
void BenchMode::paintReading(QPainter& painter, const QRectF& box)
{
    const Colours& c = m_look.colours();
    const StepView& view = *current();
    const Asked* open = wanted();
    const auto at = open != nullptr ? static_cast<std::size_t>(open - view.step.asks.data()) : 0;
    const Asked& asked = view.step.asks[at];
    const auto& taken = view.readings[at];
    const auto now = live();
    const QString value = now     ? shownValue(*now, asked.quantity)
                          : taken ? shownValue(taken->value, taken->quantity)
                                  : u"–"_s;
    QRectF number = box;
    number.setWidth(box.width() * 0.6);
    const int drawn = paintText(painter, number, value, m_look.font(120, true), now ? c.ink : c.measured);
    std::optional<Verdict> verdict;
    if (now && asked.window)
        verdict = judgeReading({.value = *now,
                                .window = asked.window,
                                .uncertainty = m_session.job().meter.uncertainty(*now, asked.quantity)})
                      .verdict;
    else if (taken)
        verdict = taken->judgement.verdict;
    if (verdict)
        paintVerdict(painter, *verdict, {box.left() + drawn + m_look.px(60), box.center().y()}, m_look.px(60),
                     c);
    QRectF window = box;
    window.setLeft(number.right());
    paintText(painter, window, windowText(asked), m_look.font(38, true), c.planned,
              Qt::AlignRight | Qt::AlignVCenter);
}

void BenchMode::paintEvent(QPaintEvent* /*event*/)
{
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    const Colours& c = m_look.colours();
    const Isolation state = m_session.evaluation().isolation.state;
    painter.fillRect(rect(), c.sheet);
    paintBenchBand(painter, width(), state, m_look);
    const StepView* view = current();
    const double left = m_look.px(60);
    const double wide = width() - 2 * left;
    double y = m_look.px(90);
    if (view == nullptr) {
        paintText(painter, QRectF(left, y, wide, m_look.px(70)), hint(), m_look.font(48, true), c.ink);
        return;
    }
    const auto block = [&](const QString& text, const QFont& font, const QColor& colour, double most) {
        painter.setFont(font);
        painter.setPen(colour);
        QRectF used;
        painter.drawText(QRectF(left, y, wide, m_look.px(most)), Qt::TextWordWrap, text, &used);
        y += std::min<double>(used.height(), m_look.px(most)) + m_look.px(12);
    };
    block(u"%1 · %2"_s.arg(stepKindWord(view->step.kind), qs(view->step.title)), m_look.font(48, true), c.ink,
          130);
    if (!view->step.asks.empty()) {
        paintReading(painter, QRectF(left, y, wide, m_look.px(140)));
        y += m_look.px(150);
    }
    block(qs(view->step.detail), m_look.font(26), c.ink, view->step.asks.empty() ? 240 : 110);
    const double floor = height() - m_look.px(150);
    for (Caution caution : view->step.cautions) {
        if (y > floor - m_look.px(60))
            break;
        painter.fillRect(QRectF(left - m_look.px(20), y, m_look.px(6), m_look.px(50)), c.tight);
        block(qs(cautionText(caution)), m_look.font(22), c.tight, 64);
    }
    paintText(painter, QRectF(left, height() - m_look.px(140), wide, m_look.px(44)),
              m_message.isEmpty() ? hint() : m_message, m_look.font(26, true), c.planned);
}

} // namespace offshoot::ui
