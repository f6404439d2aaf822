#include "ui/frame/bench_mode.h"

#include "core/values/format.h"
#include "ui/paint/marks.h"
#include "ui/procedure/procedure_view.h"

#include <QKeyEvent>
#include <QLineEdit>

namespace offshoot::ui {

using namespace Qt::StringLiterals;

BenchMode::BenchMode(JobSession& session, Look& look, QWidget* parent)
    : QWidget(parent)
    , m_session(session)
    , m_look(look)
    , m_entry(new QLineEdit(this))
{
    setObjectName(u"benchMode"_s);
    setFocusPolicy(Qt::StrongFocus);
    setAccessibleName(tr("Bench mode"));
    m_entry->setPlaceholderText(tr("type the reading, Enter logs it"));
    m_entry->setAccessibleName(tr("Reading"));
    connect(m_entry, &QLineEdit::returnPressed, this, &BenchMode::take);
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
    if (view->step.kind == StepKind::Isolate || view->step.kind == StepKind::Power ||
        view->step.kind == StepKind::Prove)
        return tr("This changes the isolation state: declare it by hand, Esc goes back to the window.");
    if (!view->refusal.empty())
        return qs(view->refusal);
    return tr("Space: done, next");
}

void BenchMode::accept()
{
    const StepView* view = current();
    if (view == nullptr || view->step.kind == StepKind::Isolate || view->step.kind == StepKind::Power ||
        view->step.kind == StepKind::Prove)
        return;
    m_message.clear();
    m_session.tick(view->step.id);
}

void BenchMode::take()
{
    const StepView* view = current();
    QString text = m_entry->text();
    // At the bench a bare number answers the step at hand.
    std::string point = m_session.lastPoint();
    if (view != nullptr)
        for (std::size_t i = 0; i < view->step.asks.size(); ++i)
            if (!view->readings[i] || view->step.asks.size() == 1) {
                point = view->step.asks[i].point;
                break;
            }
    const LogLine line = readLogLine(text.toStdString(), m_session.job(), m_session.evaluation(), point);
    if (!line.entry || !line.problem.empty())
        m_message = line.problem.empty() ? tr("type a reading") : qs(line.problem);
    else if (!line.question.empty())
        m_message = qs(line.question) + tr(" Use the log line of the window.");
    else if (line.entry->kind == LogKind::Live || line.entry->kind == LogKind::SourceOff)
        m_message = tr("The isolation state is declared in the window.");
    else if (m_session.log(*line.entry)) {
        m_message = qs(line.echo);
        m_entry->clear();
        setFocus();
    }
    update();
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

void BenchMode::paintEvent(QPaintEvent* /*event*/)
{
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    const Colours& c = m_look.colours();
    const Isolation state = m_session.evaluation().isolation.state;
    painter.fillRect(rect(), c.sheet);
    const Colours& plate = lightColours();
    const QColor band = state == Isolation::Live       ? plate.breaks
                        : state == Isolation::Unproven ? plate.tight
                                                       : plate.fits;
    painter.fillRect(QRectF(0, 0, width(), m_look.px(72)), band);
    const double side = m_look.px(40);
    paintIsolationSign(painter, state, QRectF(m_look.px(60), m_look.px(16), side, side), plate.paper);
    static const char* const words[] = {QT_TR_NOOP("LIVE"), QT_TR_NOOP("UNPLUGGED, CHARGE NOT PROVEN"),
                                        QT_TR_NOOP("PROVEN DEAD")};
    paintText(painter, QRectF(m_look.px(120), 0, width() - m_look.px(160), m_look.px(72)),
              tr(words[static_cast<int>(state)]), m_look.font(34, true), plate.paper);
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
        const Asked& asked = view->step.asks.front();
        const auto& reading = view->readings.front();
        const QString value = reading ? qs(reading->quantity == Quantity::Voltage
                                               ? formatVolts(reading->value)
                                               : formatValue(reading->value, reading->quantity))
                                      : u"–"_s;
        const int drawn = paintText(painter, QRectF(left, y, wide * 0.6, m_look.px(140)), value,
                                    m_look.font(120, true), c.measured);
        if (reading)
            paintVerdict(painter, reading->judgement.verdict,
                         {left + drawn + m_look.px(60), y + m_look.px(70)}, m_look.px(60), c);
        paintText(painter, QRectF(left + wide * 0.6, y, wide * 0.4, m_look.px(140)), windowText(asked),
                  m_look.font(38, true), c.planned, Qt::AlignRight | Qt::AlignVCenter);
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
