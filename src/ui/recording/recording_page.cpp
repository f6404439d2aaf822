#include "ui/recording/recording_page.h"

#include "core/job/readings.h"
#include "core/values/format.h"
#include "ui/fields/paragraph.h"
#include "ui/paint/curves.h"
#include "ui/paint/marks.h"

#include <QComboBox>
#include <QDateTime>
#include <QFormLayout>
#include <QHBoxLayout>
#include <QLineEdit>
#include <QPainter>
#include <QPushButton>
#include <QScrollArea>
#include <QSignalBlocker>
#include <QVBoxLayout>
#include <algorithm>

namespace offshoot::ui {

using namespace Qt::StringLiterals;

namespace {

QString shown(double value, Quantity quantity)
{
    return quantity == Quantity::Voltage ? qs(formatVolts(value)) : qs(formatValue(value, quantity, 4));
}

QString endWords(RecordingEnd ended)
{
    switch (ended) {
    case RecordingEnd::ByHand:
        return RecordingPage::tr("ended by hand");
    case RecordingEnd::Time:
        return RecordingPage::tr("its time was over");
    case RecordingEnd::Steady:
        return RecordingPage::tr("it was steady");
    case RecordingEnd::Reached:
        return RecordingPage::tr("its bound was reached");
    case RecordingEnd::MeterLost:
        return RecordingPage::tr("the meter was lost");
    }
    return {};
}

std::vector<const LogEntry*> recordings(const Job& job)
{
    const auto struck = struckIds(job.log);
    std::vector<const LogEntry*> all;
    for (const LogEntry& entry : job.log)
        if (entry.recording && !struck.contains(entry.id))
            all.push_back(&entry);
    return all;
}

} // namespace

CurvePicture::CurvePicture(const Look& look, QWidget* parent)
    : QWidget(parent)
    , m_look(look)
{
    setAccessibleName(tr("The reading over time"));
    sizedWith(*this, look, [this, &look] { setMinimumSize(look.px(300), look.px(220)); });
}

void CurvePicture::show(std::vector<double> t_s, std::vector<double> values, Quantity quantity, bool live)
{
    m_t_s = std::move(t_s);
    m_values = std::move(values);
    m_quantity = quantity;
    m_live = live;
    setAccessibleDescription(m_values.empty() ? QString() : shown(m_values.back(), quantity));
    update();
}

void CurvePicture::paintEvent(QPaintEvent* /*event*/)
{
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    if (m_values.size() < 2)
        return paintSentence(painter, rect(), tr("Here the reading goes over time: a warm-up, a charge."),
                             m_look);
    // Long ones are read in minutes or hours.
    constexpr double minute = 60;
    constexpr double hour = 3600;
    const double end = m_t_s.back();
    const double unit = end > 5 * hour ? hour : end > 5 * minute ? minute : 1;
    std::vector<double> t;
    for (const double s : m_t_s)
        t.push_back(s / unit);
    const std::vector<Curve> curves{{t, m_values, m_look.colours().measured, 2, Qt::SolidLine, {}}};
    AxisRange range = yRange(curves, false);
    range.widen(0.05, 1e-6);
    const Axes axes(QRectF(rect()).adjusted(m_look.px(64), m_look.px(26), -m_look.px(16), -m_look.px(44)),
                    {t.front(), std::max(t.back(), t.front() + 1e-9)}, range);
    paintCurves(painter, axes, curves, m_look);
    const QString time = unit == hour ? tr("hours") : unit == minute ? tr("minutes") : tr("seconds");
    axes.paint(painter, m_look, time, bench::quantityWord(m_quantity));
    if (m_live) {
        painter.setBrush(m_look.colours().measured);
        painter.setPen(Qt::NoPen);
        painter.drawEllipse(axes.at(t.back(), m_values.back()), m_look.px(4), m_look.px(4));
    }
}

RecordingPage::RecordingPage(RecordingRun& run, JobSession& session, Look& look, QWidget* parent)
    : WorkspacePage(session, look, parent)
    , m_run(run)
    , m_picture(new CurvePicture(look))
    , m_past(new QComboBox)
    , m_point(new QComboBox)
    , m_after(new QLineEdit)
    , m_within(new QLineEdit)
    , m_for(new QLineEdit)
    , m_below(new QLineEdit)
    , m_above(new QLineEdit)
    , m_start(new QPushButton)
    , m_problem(new Paragraph)
    , m_says(richText())
{
    auto* left = new QVBoxLayout;
    m_past->setAccessibleName(tr("Which recording"));
    left->addWidget(m_past);
    left->addWidget(m_picture, 1);
    body().addLayout(left, 5);
    body().addWidget(side(), 3);
    connect(m_past, &QComboBox::activated, this, [this] { refresh(); });
    connect(&run, &RecordingRun::changed, this, [this] {
        if (isVisible())
            refresh();
    });
    follow();
}

QWidget* RecordingPage::side()
{
    auto* box = new QWidget;
    auto* column = new QVBoxLayout(box);
    column->setContentsMargins(0, 0, 0, 0);
    auto* form = new QFormLayout;
    form->setVerticalSpacing(m_look.px(2));
    m_point->setAccessibleName(tr("Point to record"));
    form->addRow(tr("Point"), m_point);
    const auto line = [&](const QString& label, QLineEdit* edit, const QString& hint) {
        edit->setAccessibleName(label);
        edit->setPlaceholderText(hint);
        form->addRow(label, edit);
    };
    line(tr("Ends after"), m_after, tr("2h"));
    line(tr("or once within"), m_within, tr("10mV"));
    line(tr("for"), m_for, tr("10min"));
    line(tr("or below"), m_below, tr("0.1A"));
    line(tr("or above"), m_above, tr("27.6V"));
    column->addLayout(form);
    m_start->setProperty("main", true);
    m_start->setObjectName(u"record"_s);
    column->addWidget(m_start, 0, Qt::AlignLeft);
    m_problem->setProperty("role", u"problem"_s);
    column->addWidget(m_problem);
    column->addWidget(m_says);
    column->addWidget(caption(
        tr("It takes what the attached meter reads, once a second. Without a rule it goes on until it "
           "is ended.")));
    column->addStretch();
    connect(m_start, &QPushButton::clicked, this, [this] {
        if (m_run.running())
            m_run.stop();
        else
            begin();
    });
    return scrolling(box);
}

std::optional<double> RecordingPage::rule(const QLineEdit& line, Quantity quantity, QString& wrong) const
{
    const QString text = line.text().trimmed();
    if (text.isEmpty())
        return std::nullopt;
    const auto value = parseValue(text.toStdString(), quantity);
    if (!value) {
        wrong = u"%1: %2"_s.arg(line.accessibleName(), qs(value.problem().message));
        return std::nullopt;
    }
    return value->value;
}

void RecordingPage::begin()
{
    const auto at = static_cast<std::size_t>(std::max(m_point->currentIndex(), 0));
    if (at >= m_points.size())
        return;
    const LogPoint& point = m_points[at];
    QString wrong;
    const StopRules rules{.after_s = rule(*m_after, Quantity::Time, wrong),
                          .steady_within = rule(*m_within, point.quantity, wrong),
                          .steady_for_s = rule(*m_for, Quantity::Time, wrong),
                          .below = rule(*m_below, point.quantity, wrong),
                          .above = rule(*m_above, point.quantity, wrong)};
    if (wrong.isEmpty() && rules.steady_within.has_value() != rules.steady_for_s.has_value())
        wrong = tr("Within how much, and for how long? Both say when it is steady.");
    m_problem->setText(wrong);
    if (wrong.isEmpty() && m_run.start(point.name, point.quantity, rules))
        m_past->setCurrentIndex(-1);
}

const LogEntry* RecordingPage::chosen() const
{
    const auto all = recordings(m_session.job());
    if (all.empty() || m_run.running())
        return nullptr;
    const int at = m_past->currentIndex();
    return at >= 0 && at < static_cast<int>(all.size()) ? all[all.size() - 1 - static_cast<std::size_t>(at)]
                                                        : all.back();
}

void RecordingPage::refresh()
{
    const Job& job = m_session.job();
    const auto all = recordings(job);
    {
        const QSignalBlocker past(m_past);
        const int kept = m_past->currentIndex();
        m_past->clear();
        for (auto entry = all.rbegin(); entry != all.rend(); ++entry)
            m_past->addItem(qs(*(*entry)->point) + u", "_s +
                            QDateTime::fromSecsSinceEpoch(static_cast<qint64>((*entry)->recording->begun_s))
                                .toString(u"d MMM HH:mm"_s));
        m_past->setCurrentIndex(std::clamp(kept, 0, std::max(static_cast<int>(all.size()) - 1, 0)));
        const QSignalBlocker points(m_point);
        const QString point = m_point->currentText();
        m_points.clear();
        m_point->clear();
        for (const LogPoint& one : logPoints(job))
            if (one.quantity == Quantity::Voltage || one.quantity == Quantity::Current ||
                one.quantity == Quantity::Temperature) {
                m_points.push_back(one);
                m_point->addItem(qs(one.name));
            }
        m_point->setCurrentIndex(std::max(m_point->findText(point), 0));
    }
    m_past->setVisible(!all.empty() && !m_run.running());
    m_start->setText(m_run.running() ? tr("End it") : tr("Record"));
    m_point->setEnabled(!m_run.running());
    QString says;
    if (const Recorder* running = m_run.recorder()) {
        m_picture->show(running->times(), running->values(), m_run.quantity(), true);
        const auto left = running->leftS();
        setSentence(
            tr("%1 is recorded: %2 after %3%4")
                .arg(qs(m_run.point()), shown(running->values().back(), m_run.quantity()),
                     qs(formatDuration(running->times().back())),
                     left ? tr("; about %1 left, as it goes.").arg(qs(formatDuration(*left))) : u"."_s));
    } else if (const LogEntry* entry = chosen()) {
        const KeptRecording& r = *entry->recording;
        m_picture->show(r.t_s, r.values, *entry->quantity, false);
        setSentence(tr("%1 went from %2 to %3 in %4: %5.")
                        .arg(qs(*entry->point), shown(r.first, *entry->quantity),
                             shown(*entry->value, *entry->quantity), qs(formatDuration(r.lasted_s)),
                             endWords(r.ended)));
        says = tr("Lowest %1, highest %2, %3 points%4")
                   .arg(shown(r.lowest, *entry->quantity), shown(r.highest, *entry->quantity),
                        QString::number(r.count),
                        r.file.empty() ? u"."_s : tr(" in %1.").arg(qs(r.file).toHtmlEscaped()));
    } else {
        m_picture->show({}, {}, Quantity::Voltage, false);
        setSentence(tr("Record a reading over time, and say what ends it."));
    }
    m_says->setText(says);
}

} // namespace offshoot::ui
