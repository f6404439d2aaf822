#include "ui/procedure/procedure_view.h"

#include "core/evaluate/evaluation.h"
#include "core/kinds/kind.h"
#include "core/supply/connections.h"
#include "core/values/format.h"
#include "ui/fields/paragraph.h"
#include "ui/fields/scrolling.h"
#include "ui/fields/tab_order.h"
#include "ui/paint/marks.h"
#include "ui/paint/wiring.h"
#include "ui/procedure/diagnosis_html.h"
#include "ui/procedure/reading_gauge.h"
#include "ui/refresh.h"

#include <QCheckBox>
#include <QHBoxLayout>
#include <QLabel>
#include <QMouseEvent>
#include <QPushButton>
#include <QVBoxLayout>

namespace offshoot::ui {

using namespace Qt::StringLiterals;

ProcedureView::ProcedureView(Stage stage, JobSession& session, Look& look, QWidget* parent)
    : QWidget(parent)
    , m_session(session)
    , m_look(look)
    , m_model(new StepModel(stage, session, this))
    , m_list(new QListView(this))
    , m_area(scrolling(nullptr))
{
    m_list->setModel(m_model);
    m_list->setItemDelegate(new StepDelegate(*m_model, look, m_list));
    m_list->setObjectName(u"steps"_s);
    m_list->setAccessibleName(tr("Steps"));
    m_list->setVerticalScrollMode(QAbstractItemView::ScrollPerPixel);
    m_list->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    m_area->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    auto* layout = new QHBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(look.px(14));
    auto* steps = new QVBoxLayout;
    steps->addWidget(m_list, 1);
    if (stage == Stage::Change) { // before anybody takes up the iron
        auto* rehearse = new QPushButton(tr("Rehearse it on a simulated unit first"));
        connect(rehearse, &QPushButton::clicked, this, &ProcedureView::rehearsalWanted);
        steps->addWidget(rehearse);
    }
    layout->addLayout(steps, 5);
    layout->addWidget(m_area, 6);
    connect(m_list->selectionModel(), &QItemSelectionModel::currentChanged, this, &ProcedureView::showStep);
    connect(m_list, &QListView::activated, this, [this] { tickCurrent(); });
    connect(&look, &Look::changed, this,
            [this] { m_signature.clear(); }); // its colours are in the step's text
    refreshWhileVisible(*this, session, look, [this] {
        m_model->take();
        follow();
    });
    connect(m_model, &QAbstractItemModel::modelReset, this, [this] {
        m_signature.clear();
        m_list->setCurrentIndex(m_model->index(m_model->firstOpen()));
    });
}

const StepView* ProcedureView::current() const
{
    const QModelIndex index = m_list->currentIndex();
    return index.isValid() ? &m_model->at(index.row()) : nullptr;
}

QString ProcedureView::signature(const StepView& view) const
{
    QString text = qs(view.step.id) + qs(view.step.fingerprint()) + qs(view.refusal) +
                   QString::number(static_cast<int>(view.status));
    for (const auto& reading : view.readings)
        text += reading ? qs(reading->id) : u"-"_s;
    for (const std::string& source : m_session.evaluation().isolation.sources_on)
        text += qs(source);
    for (const std::string& point : m_session.evaluation().isolation.to_prove)
        text += qs(point);
    text += m_session.evaluation().isolation.meter_proven ? u"m"_s : QString();
    text += m_session.evaluation().isolation.meter_pending ? u"p"_s : QString();
    text += m_session.evaluation().diagnosis ? qs(m_session.evaluation().diagnosed_reading) : QString();
    return text;
}

/// Goes on to the next open step once the one at hand is done.
void ProcedureView::follow()
{
    const StepView* view = current();
    if (view == nullptr)
        return;
    const bool wasOpen = !m_signature.isEmpty() && !m_signature.startsWith(u"done "_s);
    if (view->status == StepStatus::Done && wasOpen && m_signature.startsWith(qs(view->step.id))) {
        m_list->setCurrentIndex(m_model->index(m_model->firstOpen()));
        return;
    }
    const QString now = (view->status == StepStatus::Done ? u"done "_s : QString()) + signature(*view);
    if (now != m_signature)
        showStep();
    showCountdown();
}

bool ProcedureView::tickCurrent()
{
    const StepView* view = current();
    if (view == nullptr)
        return false;
    const std::string id = view->step.id;
    if (!m_session.tick(id, m_checks[id]))
        return false;
    m_checks.erase(id); // the next time each is looked at anew
    return true;
}

namespace {

QLabel* wrapped(const QString& text, const char* role = nullptr)
{
    auto* label = new Paragraph(text);
    if (role != nullptr)
        label->setProperty("role", QLatin1String(role));
    return label;
}

} // namespace

void ProcedureView::fillCautions(QVBoxLayout& layout, const StepView& view)
{
    const Colours& c = m_look.colours();
    for (Caution caution : view.step.cautions) {
        auto* row = new QHBoxLayout;
        auto* edge = new QWidget;
        edge->setFixedWidth(m_look.px(4));
        edge->setAutoFillBackground(true);
        edge->setAttribute(Qt::WA_StyledBackground);
        edge->setStyleSheet(u"background: %1;"_s.arg(c.tight.name()));
        auto* label = wrapped(qs(cautionText(caution)));
        label->setAccessibleName(tr("Caution: %1").arg(label->text()));
        row->addWidget(edge);
        row->addWidget(label, 1);
        layout.addLayout(row);
    }
}

void ProcedureView::fillSources(QVBoxLayout& layout, const StepView& view)
{
    if (view.step.kind != StepKind::Isolate && !view.step.is(Does::Prove))
        return;
    const IsolationView& isolation = m_session.evaluation().isolation;
    if (view.step.kind == StepKind::Isolate) {
        for (const std::string& source : isolation.sources_on) {
            auto* button = new QPushButton(tr("%1 is off").arg(qs(source)));
            button->setObjectName(u"off_"_s + qs(source));
            connect(button, &QPushButton::clicked, this, [this, s = qs(source)] { m_session.declareOff(s); });
            layout.addWidget(button, 0, Qt::AlignLeft);
        }
        for (const std::string& source : isolation.sources_off)
            layout.addWidget(wrapped(tr("%1: declared off").arg(qs(source)), "caption"));
    } else if (isolation.state != Isolation::Live) {
        auto* button = new QPushButton(isolation.meter_pending ? tr("Meter still right on a known voltage")
                                                               : tr("Meter right on a known voltage"));
        button->setObjectName(u"meterProven"_s);
        connect(button, &QPushButton::clicked, this, [this] { m_session.meterProven(); });
        layout.addWidget(button, 0, Qt::AlignLeft);
    }
}

namespace {

/// What is ticked, in words that wrap; a click on them is one on the box.
class TickWords : public Paragraph
{
public:
    TickWords(const QString& words, QCheckBox& box)
        : Paragraph(words)
        , m_box(box)
    {
        setBuddy(&box);
    }

protected:
    void mouseReleaseEvent(QMouseEvent* event) override
    {
        if (event->button() == Qt::LeftButton && rect().contains(event->position().toPoint()))
            m_box.click();
    }

private:
    QCheckBox& m_box;
};

} // namespace

void ProcedureView::fillChecks(QVBoxLayout& layout, const StepView& view)
{
    auto& state = m_checks[view.step.id];
    state.resize(view.step.checks.size());
    for (std::size_t i = 0; i < view.step.checks.size(); ++i) {
        auto* box = new QCheckBox;
        box->setAccessibleName(qs(view.step.checks[i]));
        box->setChecked(state[i]);
        connect(box, &QCheckBox::toggled, this,
                [this, id = view.step.id, i](bool on) { m_checks[id][i] = on; });
        auto* row = new QHBoxLayout;
        row->addWidget(box, 0, Qt::AlignTop);
        row->addWidget(new TickWords(qs(view.step.checks[i]), *box), 1);
        layout.addLayout(row);
    }
}

void ProcedureView::fillReadings(QVBoxLayout& layout, const StepView& view)
{
    const Colours& c = m_look.colours();
    for (std::size_t i = 0; i < view.step.asks.size(); ++i) {
        const Asked& asked = view.step.asks[i];
        QString text = u"<b>%1</b>"_s.arg(qs(asked.name()).toHtmlEscaped());
        if (asked.load_a)
            text += tr(" at %1").arg(qs(formatValue(*asked.load_a, Quantity::Current)));
        if (const QString window = windowText(asked); !window.isEmpty())
            text += u" <span style='color:%1'><b>%2</b></span>"_s.arg(c.planned.name(), window);
        text += u"<br><span style='color:%1'>%2</span>"_s.arg(c.softInk.name(),
                                                              qs(asked.because).toHtmlEscaped());
        if (const auto& reading = view.readings[i]) {
            const Verdict verdict = reading->judgement.verdict;
            text +=
                u"<br><span style='color:%1'><b>%2 ± %3</b></span> <span style='color:%4'><b>%5</b></span>"_s
                    .arg(c.measured.name(),
                         qs(asked.quantity == Quantity::Voltage
                                ? formatVolts(reading->value)
                                : formatValue(reading->value, asked.quantity)),
                         qs(formatValue(reading->u, asked.quantity, 2)), c.verdict(verdict).name(),
                         verdictWord(verdict));
            if (reading->judgement.meter_too_coarse && verdict != Verdict::Breaks)
                text += tr(" (the meter is too coarse for this window)");
        }
        auto* label = wrapped(text);
        label->setTextFormat(Qt::RichText);
        layout.addWidget(label);
        if (asked.window)
            layout.addWidget(new ReadingGauge(asked, view.readings[i], foundBeside(view.step), m_look));
    }
}

void ProcedureView::fillLogButton(QVBoxLayout& layout, const StepView& view)
{
    if (!view.step.asks.empty()) {
        auto* log = new QPushButton(tr("Log %1 ( / )").arg(qs(view.step.asks.front().name())));
        connect(log, &QPushButton::clicked, this,
                [this, point = qs(view.step.asks.front().name())] { Q_EMIT logWanted(point + u' '); });
        layout.addWidget(log, 0, Qt::AlignLeft);
    }
}

/// The before-reading under the same load as a bring-up step.
std::optional<double> ProcedureView::foundBeside(const Step& step) const
{
    constexpr std::string_view prefix = "bringup.";
    if (!step.id.starts_with(prefix))
        return std::nullopt;
    const std::string found = "found." + step.id.substr(prefix.size());
    for (const StepView& view : m_session.evaluation().steps)
        if (view.step.id == found && !view.readings.empty() && view.readings.front())
            return view.readings.front()->value;
    return std::nullopt;
}

/// What the limiter lamp did, to be chosen; the log line takes the same words.
void ProcedureView::fillLamp(QVBoxLayout& layout, const StepView& view)
{
    if (!view.step.watches_lamp || view.status == StepStatus::Done)
        return;
    struct Sign
    {
        LampSeen seen;
        QString text;
    };
    auto* grid = new QGridLayout;
    grid->setSpacing(m_look.px(6));
    int i = 0;
    for (const Sign& sign :
         {Sign{LampSeen::Flash, tr("flash, then dim: normal")}, Sign{LampSeen::Dark, tr("dark: no current")},
          Sign{LampSeen::Bright, tr("bright: a short")}, Sign{LampSeen::Pulsing, tr("pulsing: hiccup")}}) {
        auto* button = new QPushButton(sign.text);
        button->setObjectName(u"lamp_"_s + qs(word(sign.seen)));
        button->setIcon(QIcon(lampPicture(sign.seen, m_look)));
        button->setIconSize(QSize(m_look.px(22), m_look.px(22)));
        connect(button, &QPushButton::clicked, this, [this, seen = sign.seen] {
            LogEntry entry{.id = "", .time_s = 0, .kind = LogKind::Lamp};
            entry.lamp = seen;
            m_session.log(std::move(entry));
        });
        grid->addWidget(button, i / 2, i % 2);
        ++i;
    }
    layout.addWidget(wrapped(tr("What did the lamp do?")));
    layout.addLayout(grid);
}

void ProcedureView::fillDiagnosis(QVBoxLayout& layout)
{
    const Evaluation& evaluation = m_session.evaluation();
    if (!evaluation.diagnosis)
        return;
    const QString html = diagnosisHtml(*evaluation.diagnosis, qs(evaluation.diagnosed_reading), m_look);
    if (html.isEmpty())
        return;
    auto* label = wrapped(html);
    label->setTextFormat(Qt::RichText);
    label->setObjectName(u"diagnosis"_s);
    layout.addWidget(label);
}

void ProcedureView::showStep()
{
    const StepView* view = current();
    if (view == nullptr)
        return;
    m_signature = (view->status == StepStatus::Done ? u"done "_s : QString()) + signature(*view);
    auto* page = new QWidget;
    auto* layout = new QVBoxLayout(page);
    layout->setContentsMargins(m_look.px(6), m_look.px(4), m_look.px(8), m_look.px(4));
    layout->setSpacing(m_look.px(9));
    layout->addWidget(wrapped(qs(view->step.title), "title"));
    if (!view->step.detail.empty())
        layout->addWidget(wrapped(qs(view->step.detail)));
    fillCautions(*layout, *view);
    fillSources(*layout, *view);
    m_countdown = nullptr;
    if (view->step.wait_s) {
        m_countdown = wrapped({});
        layout->addWidget(m_countdown);
        if (!m_waits.contains(view->step.id)) {
            auto* start = new QPushButton(tr("Start %1").arg(qs(formatDuration(*view->step.wait_s))));
            connect(start, &QPushButton::clicked, this, [this, id = view->step.id, s = *view->step.wait_s] {
                m_waits[id] = m_session.now() + s;
                showStep();
            });
            layout->addWidget(start, 0, Qt::AlignLeft);
        }
    }
    fillChecks(*layout, *view);
    fillLamp(*layout, *view);
    fillReadings(*layout, *view);
    fillDrawings(*layout, view->step);
    if (view->step.stage == Stage::BringUp)
        fillDiagnosis(*layout);
    fillLogButton(*layout, *view);
    m_tick = new QPushButton(view->status == StepStatus::Done     ? tr("Done")
                             : view->step.kind == StepKind::Power ? tr("Power on")
                                                                  : tr("Done (Enter)"));
    m_tick->setObjectName(u"tick"_s);
    m_tick->setProperty("main", true);
    m_tick->setEnabled(view->status != StepStatus::Done);
    connect(m_tick, &QPushButton::clicked, this, [this] { tickCurrent(); });
    m_refusal = wrapped(view->status == StepStatus::Done ? QString() : qs(view->refusal), "problem");
    layout->addWidget(m_tick, 0, Qt::AlignLeft);
    m_tick->setVisible(view->refusal.empty() || view->status == StepStatus::Done);
    layout->addWidget(m_refusal);
    layout->addStretch();
    m_area->setWidget(page); // deletes the old one
    tabBehind(*m_area, *page);
    showCountdown();
}

/// The wiring that the step makes, from the connections that are calculated.
void ProcedureView::fillDrawings(QVBoxLayout& layout, const Step& step)
{
    if (step.drawing.empty())
        return;
    for (const Connections& wiring : plannedConnections(m_session.job(), m_session.evaluation()))
        if (step.drawing == "plan" || step.drawing == wiring.name) {
            if (step.detail.find(wiring.sentence) == std::string::npos)
                layout.addWidget(wrapped(qs(wiring.sentence)));
            layout.addWidget(new WiringPicture(wiring, m_look));
        }
}

void ProcedureView::showCountdown()
{
    const StepView* view = current();
    if (m_countdown == nullptr || view == nullptr || !m_waits.contains(view->step.id))
        return;
    const double left = m_waits[view->step.id] - m_session.now();
    m_countdown->setText(u"<b>%1</b>"_s.arg(left > 0 ? qs(formatDuration(left)) : tr("measure now")));
}

} // namespace offshoot::ui
