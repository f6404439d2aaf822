#include "ui/rectifier/rectifier_page.h"

#include "core/values/format.h"
#include "ui/fields/option_list.h"
#include "ui/fields/tabs.h"
#include "ui/fields/value_field.h"
#include "ui/frame/consequences_panel.h"
#include "ui/paint/curves.h"
#include "ui/paint/marks.h"

#include <QComboBox>
#include <QFormLayout>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QLineEdit>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <QPushButton>
#include <QScrollArea>
#include <QStackedWidget>
#include <QVBoxLayout>
#include <algorithm>

namespace offshoot::ui {

using namespace Qt::StringLiterals;

namespace {

constexpr int firstSection = 2;

QString volts(double v) { return qs(formatVolts(v)); }
QString amps(double a) { return qs(formatValue(a, Quantity::Current)); }

RectifierChain usualChain(SimRectifier kind, const Job& job)
{
    const double v = unitTarget(job) ? unitTarget(job)->v : 24;
    RectifierChain chain{
        .source = {.v_rms_v = std::max(1.0, v * 0.85), .f_hz = job.need.mains.f_hz, .r_ohm = 0.5},
        .rectifier = {.kind = kind, .diode = {.model = DiodeModel::Threshold, .v_f_v = 0.8, .r_ohm = 0.03}},
        .filter = {},
        .load = {.current_a = job.need.current_a.value_or(1)}};
    chain.source.spread = job.need.mains.spread;
    constexpr double usualF = 2200e-6;
    if (kind == SimRectifier::Doubler) {
        chain.rectifier.upper = SmoothingSection{.c_f = usualF};
        chain.rectifier.lower = SmoothingSection{.c_f = usualF};
    } else {
        chain.filter.push_back({.kind = SmoothingKind::C, .c_f = usualF});
    }
    return chain;
}

const QStringList& rectifierNames()
{
    static const QStringList names{RectifierPage::tr("half wave"), RectifierPage::tr("full wave, centre tap"),
                                   RectifierPage::tr("bridge"), RectifierPage::tr("doubler")};
    return names;
}

/// What keeps it from being a chain, in the words of the job file's reader; empty where nothing does.
QString problemOf(const RectifierChain& chain)
{
    try {
        readJson<RectifierChain>(writeJson(chain, NullPolicy::Omit), UnknownKeys::Keep);
    } catch (const DocumentError& error) {
        return QString::fromUtf8(error.what());
    }
    return {};
}

/// What decides which fields there are.
std::string shapeOf(const RectifierChain& chain)
{
    std::string shape = std::to_string(static_cast<int>(chain.rectifier.kind)) +
                        std::to_string(static_cast<int>(chain.rectifier.diode.model));
    for (const SmoothingSection& s : chain.filter)
        shape += std::string(word(s.kind));
    return shape + (chain.load.resistance_ohm ? "r" : chain.load.current_a ? "i" : "p");
}

} // namespace

// ---- the strip

ChainStrip::ChainStrip(Look& look, QWidget* parent)
    : QWidget(parent)
    , m_look(look)
{
    setObjectName(u"chainStrip"_s);
    setAccessibleName(tr("Rectifier chain, part by part"));
    setFocusPolicy(Qt::StrongFocus);
    setFixedHeight(look.px(112));
    setCursor(Qt::PointingHandCursor);
}

void ChainStrip::show(const RectifierChain* chain, int chosen)
{
    m_chain = chain != nullptr ? std::optional(*chain) : std::nullopt;
    m_chosen = std::clamp(chosen, 0, std::max(0, count() - 1));
    setAccessibleDescription(m_chain ? name(m_chosen) + u' ' + value(m_chosen) : QString());
    update();
}

int ChainStrip::count() const { return m_chain ? static_cast<int>(m_chain->filter.size()) + 3 : 0; }

QRectF ChainStrip::box(int part) const
{
    const double each = std::min<double>(m_look.px(104), width() / static_cast<double>(std::max(1, count())));
    return {each * part, 0, each, double(height())};
}

QString ChainStrip::name(int part) const
{
    if (part == 0)
        return tr("secondary");
    if (part == 1)
        return rectifierNames().at(static_cast<int>(m_chain->rectifier.kind)).section(u',', 0, 0);
    if (part == count() - 1)
        return tr("load");
    switch (m_chain->filter[static_cast<std::size_t>(part - firstSection)].kind) {
    case SmoothingKind::C:
        return tr("capacitor");
    case SmoothingKind::L:
        return tr("choke");
    case SmoothingKind::R:
        return tr("resistor");
    }
    return {};
}

QString ChainStrip::value(int part) const
{
    if (part == 0)
        return volts(m_chain->source.v_rms_v);
    if (part == 1)
        return m_chain->rectifier.diode.model == DiodeModel::Valve ? tr("valve") : tr("diodes");
    if (part == count() - 1) {
        const SimLoad& load = m_chain->load;
        return load.resistance_ohm ? qs(formatOhms(*load.resistance_ohm))
               : load.current_a    ? amps(*load.current_a)
                                   : qs(formatValue(*load.power_w, Quantity::Power));
    }
    const SmoothingSection& s = m_chain->filter[static_cast<std::size_t>(part - firstSection)];
    return s.kind == SmoothingKind::C   ? qs(formatValue(s.c_f, Quantity::Capacitance))
           : s.kind == SmoothingKind::L ? qs(formatValue(s.l_h, Quantity::Inductance))
                                        : qs(formatOhms(s.r_ohm));
}

void ChainStrip::paintPart(QPainter& painter, int part) const
{
    const Colours& c = m_look.colours();
    const QRectF at = box(part);
    const double line = m_look.px(40);
    const double ground = m_look.px(74);
    const double x = at.center().x();
    if (part == m_chosen) {
        painter.setPen(QPen(c.planned, hasFocus() ? 2.2 : 1.4));
        painter.setBrush(c.selection);
        painter.drawRoundedRect(at.adjusted(2, 1, -2, -1), 4, 4);
    }
    painter.setPen(QPen(c.ink, 1.8));
    painter.setBrush(Qt::NoBrush);
    const bool series =
        part >= firstSection && part < count() - 1 &&
        m_chain->filter[static_cast<std::size_t>(part - firstSection)].kind != SmoothingKind::C;
    const double half = m_look.px(22);
    if (!series || part == count() - 1)
        painter.drawLine(QPointF(part == 0 ? x : at.left(), line),
                         QPointF(part == count() - 1 ? x : at.right(), line));
    painter.drawLine(QPointF(part == 0 ? x : at.left(), ground),
                     QPointF(part == count() - 1 ? x : at.right(), ground));
    if (part == 0) {
        painter.setBrush(c.sheet);
        const double r = m_look.px(15);
        painter.drawLine(QPointF(x, line), QPointF(x, ground));
        painter.drawEllipse(QPointF(x, (line + ground) / 2), r, r);
        QPainterPath wave(QPointF(x - r * 0.6, (line + ground) / 2));
        wave.cubicTo(QPointF(x - r * 0.3, (line + ground) / 2 - r),
                     QPointF(x + r * 0.3, (line + ground) / 2 + r),
                     QPointF(x + r * 0.6, (line + ground) / 2));
        painter.drawPath(wave);
    } else if (part == 1) {
        const double s = m_look.px(9);
        painter.setBrush(c.ink);
        painter.drawPolygon(
            QPolygonF{{QPointF(x - s, line - s), QPointF(x - s, line + s), QPointF(x + s, line)}});
        painter.drawLine(QPointF(x + s, line - s), QPointF(x + s, line + s));
    } else if (part == count() - 1) {
        painter.drawLine(QPointF(x, line), QPointF(x, ground));
        painter.setBrush(c.ribbon);
        painter.drawRect(
            QRectF(x - m_look.px(8), line + m_look.px(7), m_look.px(16), ground - line - m_look.px(14)));
    } else if (!series) {
        const double middle = (line + ground) / 2;
        painter.drawLine(QPointF(x, line), QPointF(x, middle - 4));
        painter.drawLine(QPointF(x, middle + 4), QPointF(x, ground));
        painter.setPen(QPen(c.ink, 3));
        painter.drawLine(QPointF(x - m_look.px(12), middle - 4), QPointF(x + m_look.px(12), middle - 4));
        painter.drawLine(QPointF(x - m_look.px(12), middle + 4), QPointF(x + m_look.px(12), middle + 4));
    } else {
        painter.drawLine(QPointF(at.left(), line), QPointF(x - half, line));
        painter.drawLine(QPointF(x + half, line), QPointF(at.right(), line));
        const bool choke =
            m_chain->filter[static_cast<std::size_t>(part - firstSection)].kind == SmoothingKind::L;
        if (choke) {
            QPainterPath path(QPointF(x - half, line));
            for (int i = 0; i < 4; ++i) {
                const double from = x - half + half / 2 * i;
                path.cubicTo(QPointF(from, line - m_look.px(16)),
                             QPointF(from + half / 2, line - m_look.px(16)), QPointF(from + half / 2, line));
            }
            painter.drawPath(path);
        } else {
            painter.setBrush(c.sheet);
            painter.drawRect(QRectF(x - half, line - m_look.px(7), 2 * half, m_look.px(14)));
        }
    }
    paintText(painter, QRectF(at.left() + 4, m_look.px(4), at.width() - 8, m_look.px(18)), name(part),
              m_look.caption(), c.softInk, Qt::AlignCenter);
    paintText(painter, QRectF(at.left() + 4, m_look.px(84), at.width() - 8, m_look.px(20)), value(part),
              m_look.font(14, true), c.planned, Qt::AlignCenter);
}

void ChainStrip::paintEvent(QPaintEvent* /*event*/)
{
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    if (!m_chain)
        return paintSentence(painter, rect(),
                             tr("Start a chain below: then every part stands here to be edited."), m_look);
    for (int part = 0; part < count(); ++part)
        paintPart(painter, part);
}

void ChainStrip::mousePressEvent(QMouseEvent* event)
{
    for (int part = 0; part < count(); ++part)
        if (box(part).contains(event->position()))
            Q_EMIT chose(part);
}

void ChainStrip::keyPressEvent(QKeyEvent* event)
{
    if (event->key() == Qt::Key_Right && m_chosen + 1 < count())
        Q_EMIT chose(m_chosen + 1);
    else if (event->key() == Qt::Key_Left && m_chosen > 0)
        Q_EMIT chose(m_chosen - 1);
    else
        QWidget::keyPressEvent(event);
}

// ---- waveforms

WavePicture::WavePicture(Look& look, QWidget* parent)
    : QWidget(parent)
    , m_look(look)
{
    setAccessibleName(tr("Load voltage and source current over one cycle"));
    setMinimumSize(look.px(280), look.px(190));
}

void WavePicture::show(const std::optional<SteadyResult>& result, const std::optional<SteadyResult>& before,
                       bool running, double share)
{
    m_result = result;
    m_before = before;
    m_running = running;
    m_share = share;
    update();
}

void WavePicture::paintEvent(QPaintEvent* /*event*/)
{
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    const Colours& c = m_look.colours();
    if (!m_result || !m_result->waveforms)
        return paintSentence(painter, rect(), m_running ? tr("Simulating…") : tr("No waveform yet."), m_look);
    const auto milli = [](const std::vector<double>& t) {
        std::vector<double> scaled(t);
        for (double& s : scaled)
            s *= 1e3;
        return scaled;
    };
    const SimWaveforms& w = *m_result->waveforms;
    std::vector<Curve> voltsOf;
    std::vector<Curve> ampsOf;
    if (m_before && m_before->waveforms) {
        voltsOf.push_back({milli(m_before->waveforms->t_s), m_before->waveforms->v_load_v, c.found, 1.4,
                           Qt::DashLine, tr("found")});
        ampsOf.push_back({milli(m_before->waveforms->t_s),
                          m_before->waveforms->i_source_a,
                          c.found,
                          1.4,
                          Qt::DashLine,
                          {}});
    }
    voltsOf.push_back(
        {milli(w.t_s), w.v_load_v, c.planned, 2.2, Qt::SolidLine, m_before ? tr("planned") : QString()});
    ampsOf.push_back({milli(w.t_s), w.i_source_a, c.planned, 2, Qt::SolidLine, {}});
    const double end = 1e3 * w.t_s.back();
    const double left = m_look.px(64);
    const double panel = (height() - m_look.px(118)) / 2.0;
    const Axes upper(QRectF(left, m_look.px(28), width() - left - m_look.px(12), panel), {0, end},
                     yRange(voltsOf, false));
    const Axes lower(
        QRectF(left, m_look.px(28) + panel + m_look.px(46), width() - left - m_look.px(12), panel), {0, end},
        yRange(ampsOf));
    paintCurves(painter, upper, voltsOf, m_look);
    paintCurves(painter, lower, ampsOf, m_look);
    upper.paint(painter, m_look, {}, tr("load, V"));
    lower.paint(painter, m_look, tr("one cycle, ms"), tr("from the secondary, A"));
    if (m_running) {
        painter.setPen(Qt::NoPen);
        painter.setBrush(c.planned);
        painter.drawRect(QRectF(0, height() - 3, width() * m_share, 3));
    }
}

// ---- limits as bars

LimitBars::LimitBars(Look& look, QWidget* parent)
    : QWidget(parent)
    , m_look(look)
{
    setAccessibleName(tr("What rectifier and capacitors use of their limits"));
}

void LimitBars::show(std::vector<ConsequenceRow> rows)
{
    m_rows = std::move(rows);
    QStringList words;
    for (const ConsequenceRow& row : m_rows)
        words << u"%1, %2: %3, %4"_s.arg(qs(row.part), qs(row.quantity), figureOf(row),
                                         verdictWord(row.verdict));
    setAccessibleDescription(words.join(u"; "_s));
    setFixedHeight(sizeHint().height());
    update();
}

QSize LimitBars::sizeHint() const
{
    return {m_look.px(240), static_cast<int>(m_look.px(36) * static_cast<double>(m_rows.size()))};
}

void LimitBars::paintEvent(QPaintEvent* /*event*/)
{
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    const Colours& c = m_look.colours();
    double y = 0;
    for (const ConsequenceRow& row : m_rows) {
        const double left = m_look.px(20);
        const double wide = width() - left - m_look.px(4);
        paintVerdict(painter, row.verdict, {double(m_look.px(8)), y + m_look.px(11)}, m_look.px(11), c);
        const QString figure = figureOf(row);
        const double figureWide = QFontMetricsF(m_look.caption()).horizontalAdvance(figure) + 4;
        paintText(painter, QRectF(left + wide - figureWide, y, figureWide, m_look.px(20)), figure,
                  m_look.caption(), c.softInk, Qt::AlignRight | Qt::AlignVCenter);
        paintText(painter, QRectF(left, y, wide - figureWide - 6, m_look.px(20)),
                  u"%1, %2"_s.arg(qs(row.part), qs(row.quantity)), m_look.font(13, true), c.ink);
        paintUse(painter, QRectF(left, y + m_look.px(23), wide, m_look.px(6)), row.use, row.verdict, c);
        y += m_look.px(36);
    }
}

// ---- the dropping resistor

DropperTab::DropperTab(JobSession& session, Look& look, QWidget* parent)
    : QWidget(parent)
    , m_session(session)
    , m_look(look)
    , m_volts(new QLineEdit)
    , m_answer(richText())
    , m_options(new OptionList(
          tr("Dropping resistors from the drawer"), look, 46,
          [this](QPainter& painter, const QRectF& box, int row) { paintChoice(painter, box, row); },
          [this](int row) { return choiceText(row); }))
{
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    auto* row = new QHBoxLayout;
    auto* label = new QLabel(tr("Volts wanted at the load"));
    label->setBuddy(m_volts);
    column->addWidget(label);
    m_volts->setAccessibleName(label->text());
    m_volts->setPlaceholderText(tr("250V"));
    auto* find = new QPushButton(tr("Find the resistor"));
    row->addWidget(m_volts, 1);
    row->addWidget(find);
    column->addLayout(row);
    column->addWidget(m_answer);
    column->addWidget(m_options, 1);
    column->addWidget(caption(tr("↑ ↓ look, simulated as you go · Enter plan it")));
    connect(m_volts, &QLineEdit::returnPressed, this, &DropperTab::seek);
    connect(find, &QPushButton::clicked, this, &DropperTab::seek);
    connect(&m_run, &RectifierRun::dropped, this, &DropperTab::arrived);
    connect(&m_run, &RectifierRun::failed, this,
            [this](const QString& message) { m_answer->setText(message); });
}

void DropperTab::follow(std::optional<std::size_t> section)
{
    const RectifierChain* chain = plannedChain(m_session.job());
    const auto isResistor = [chain](std::size_t at) {
        return at < chain->filter.size() && chain->filter[at].kind == SmoothingKind::R;
    };
    m_place.reset();
    if (chain != nullptr && section && isResistor(*section))
        m_place = section;
    for (std::size_t at = 0; chain != nullptr && !m_place && at < chain->filter.size(); ++at)
        if (isResistor(at))
            m_place = at;
    RectifierChain others = chain != nullptr ? *chain : RectifierChain{};
    if (m_place)
        others.filter[*m_place].r_ohm = 0;
    if (m_sought && (!m_place || m_sought->place != static_cast<std::int64_t>(*m_place) ||
                     !(m_sought->chain == others))) {
        m_run.cancel();
        m_sought.reset();
        m_choices.clear();
        m_options->setCount(0);
    }
    if (!m_sought)
        m_answer->setText(m_place ? tr("Its value is found by simulating the whole chain.")
                                  : tr("Put a resistor into the chain first, with + R under Part."));
}

void DropperTab::seek()
{
    const auto v = parseValue(m_volts->text().toStdString(), Quantity::Voltage);
    if (!v || v->value <= 0)
        return m_answer->setText(v ? tr("volts above 0 are wanted") : qs(v.problem().message));
    if (!m_place)
        return follow(std::nullopt);
    DropperInput input{.chain = *plannedChain(m_session.job()),
                       .place = static_cast<std::int64_t>(*m_place),
                       .v_target_v = v->value};
    m_answer->setText(tr("Simulating…"));
    m_run.start(input);
    m_sought = std::move(input);
    m_sought->chain.filter[*m_place].r_ohm = 0;
}

void DropperTab::arrived(const DropperResult& result)
{
    m_choices = dropperChoices(result, m_session.job().drawer);
    m_options->setCount(static_cast<int>(m_choices.size()));
    m_answer->setText(tr("<b>%1</b>, which takes %2 at %3 rms. At the load %4, ripple %5.")
                          .arg(qs(formatOhms(result.r_ohm)), qs(formatValue(result.power_w, Quantity::Power)),
                               amps(result.i_rms_a), volts(result.load_v),
                               qs(formatValue(result.load_ripple_pp_v, Quantity::Voltage))) +
                      (m_choices.empty() ? tr(" The drawer is empty.") : QString()));
}

void DropperTab::apply(Job& job, int row) const
{
    const RectifierChain* chain = plannedChain(job);
    if (chain == nullptr || !m_place)
        return;
    RectifierChain changed = *chain;
    changed.filter[*m_place].r_ohm = m_choices.at(static_cast<std::size_t>(row)).ohm;
    job.plan.chain = std::move(changed);
}

QString DropperTab::choiceText(int row) const
{
    const DropperChoice& choice = m_choices.at(static_cast<std::size_t>(row));
    return tr("%1, %2 in the hottest part: %3")
        .arg(qs(choice.parts.network.prettyText()), qs(formatValue(choice.power.w_max, Quantity::Power)),
             verdictWord(choice.power.verdict));
}

void DropperTab::paintChoice(QPainter& painter, const QRectF& box, int row) const
{
    const Colours& c = m_look.colours();
    const DropperChoice& choice = m_choices.at(static_cast<std::size_t>(row));
    const double line = m_look.px(21);
    const double left = box.left() + m_look.px(22);
    paintVerdict(painter, choice.power.verdict, {box.left() + m_look.px(8), box.top() + line / 2 + 2},
                 m_look.px(12), c);
    paintText(painter, QRectF(left, box.top() + 2, box.right() - left, line),
              qs(choice.parts.network.prettyText()), m_look.font(14, true), c.ink);
    paintText(painter, QRectF(left, box.top() + line, box.right() - left, line),
              tr("%1 · %2 in the hottest part%3")
                  .arg(qs(formatOhms(choice.ohm)), qs(formatValue(choice.power.w_max, Quantity::Power)),
                       choice.power.use
                           ? tr(", %1 % of what it bears").arg(qs(significant(*choice.power.use * 100, 2)))
                           : tr(", what it bears is not known")),
              m_look.caption(), c.softInk);
}

// ---- the page

RectifierPage::RectifierPage(JobSession& session, Look& look, QWidget* parent)
    : WorkspacePage(session, look, parent)
    , m_strip(new ChainStrip(look))
    , m_waves(new WavePicture(look))
    , m_fields(new QWidget)
    , m_form(nullptr)
    , m_problem(new QLabel)
    , m_stop(new QPushButton(tr("Stop")))
    , m_bars(new LimitBars(look))
    , m_figures(richText())
    , m_dropper(new DropperTab(session, look))
{
    addAbove(*m_strip);
    body().addWidget(m_waves, 3);
    auto* right = new QWidget;
    auto* column = new QVBoxLayout(right);
    column->setContentsMargins(0, 0, 0, 0);
    auto* stack = new QStackedWidget;
    auto* head = new QHBoxLayout;
    addTabs(*head, {tr("Part"), tr("Figures"), tr("Dropping resistor")},
            [stack](int index) { stack->setCurrentIndex(index); });
    head->addStretch();
    column->addLayout(head);
    stack->addWidget(partTab());
    stack->addWidget(figuresTab());
    stack->addWidget(m_dropper);
    column->addWidget(stack, 1);
    body().addWidget(right, 2);
    offer(m_dropper->options(), tr("dropping resistor"),
          [this](Job& job, int row) { m_dropper->apply(job, row); });
    connect(m_strip, &ChainStrip::chose, this, [this](int part) {
        m_strip->show(plannedChain(m_session.job()), part);
        rebuildFields();
        m_dropper->follow(chosenSection());
    });
    connect(m_stop, &QPushButton::clicked, &session, &JobSession::stopSimulation);
    connect(&session, &JobSession::simulated, this, [this](double share) {
        m_waves->show(m_shown ? std::optional(m_shown->result) : std::nullopt, m_before, true, share);
    });
    connect(&m_runBefore, &RectifierRun::done, this, [this](const ChainRun& run) {
        m_before = run.result;
        refresh();
    });
    RectifierPage::follow();
}

std::optional<std::size_t> RectifierPage::chosenSection() const
{
    const RectifierChain* chain = plannedChain(m_session.job());
    const int at = m_strip->chosen() - firstSection;
    const bool is = chain != nullptr && at >= 0 && at < static_cast<int>(chain->filter.size());
    return is ? std::optional(static_cast<std::size_t>(at)) : std::nullopt;
}

QWidget* RectifierPage::partTab()
{
    auto* box = new QWidget;
    auto* column = new QVBoxLayout(box);
    column->setContentsMargins(0, 0, 0, 0);
    m_problem->setProperty("role", u"problem"_s);
    m_problem->setWordWrap(true);
    auto* inside = new QWidget;
    auto* insideLayout = new QVBoxLayout(inside);
    insideLayout->setContentsMargins(0, 0, m_look.px(4), 0);
    insideLayout->addWidget(m_fields);
    insideLayout->addWidget(m_problem);
    insideLayout->addStretch();
    column->addWidget(scrolling(inside), 1);
    column->addLayout(tools());
    return box;
}

QWidget* RectifierPage::figuresTab()
{
    auto* inside = new QWidget;
    auto* column = new QVBoxLayout(inside);
    column->setContentsMargins(0, 0, m_look.px(4), 0);
    column->addWidget(m_bars);
    column->addWidget(m_figures);
    column->addStretch();
    return scrolling(inside);
}

QLayout* RectifierPage::tools()
{
    auto* column = new QVBoxLayout;
    column->setSpacing(m_look.px(3));
    auto* add = new QHBoxLayout;
    const auto button = [this](QHBoxLayout& row, const QString& text, const std::function<void()>& pressed) {
        auto* made = new QPushButton(text);
        row.addWidget(made);
        connect(made, &QPushButton::clicked, this, pressed);
    };
    const auto insert = [this](const SmoothingSection& section) {
        edit(tr("add a part"), [this, section](RectifierChain& chain) {
            const auto at = std::clamp(m_strip->chosen() - 1, 0, static_cast<int>(chain.filter.size()));
            chain.filter.insert(chain.filter.begin() + at, section);
        });
    };
    button(*add, tr("+ C"), [insert] { insert({.kind = SmoothingKind::C, .c_f = 100e-6}); });
    button(*add, tr("+ L"), [insert] { insert({.kind = SmoothingKind::L, .l_h = 1, .r_ohm = 10}); });
    button(*add, tr("+ R"), [insert] { insert({.kind = SmoothingKind::R, .r_ohm = 10}); });
    button(*add, tr("Take out"), [this] {
        edit(tr("take a part out"), [this](RectifierChain& chain) {
            if (const auto at = chosenSection())
                chain.filter.erase(chain.filter.begin() + static_cast<std::ptrdiff_t>(*at));
        });
    });
    add->addWidget(m_stop);
    column->addLayout(add);
    auto* start = new QHBoxLayout;
    for (const SimRectifier kind : {SimRectifier::Bridge, SimRectifier::FullWaveCt, SimRectifier::Doubler})
        button(*start, tr("New %1").arg(rectifierNames().at(static_cast<int>(kind)).section(u',', 0, 0)),
               [this, kind] { startChain(kind); });
    column->addLayout(start);
    return column;
}

void RectifierPage::startChain(SimRectifier kind)
{
    m_session.edit(tr("new chain"), [kind](Job& job) { job.plan.chain = usualChain(kind, job); });
}

void RectifierPage::edit(const QString& what, const std::function<void(RectifierChain&)>& change)
{
    const RectifierChain* planned = plannedChain(m_session.job());
    if (planned == nullptr)
        return;
    RectifierChain chain = *planned;
    change(chain);
    m_problem->setText(problemOf(chain));
    if (!m_problem->text().isEmpty())
        return;
    m_session.edit(what, [&chain](Job& job) { job.plan.chain = chain; });
}

void RectifierPage::addField(const QString& label, Quantity quantity,
                             const std::function<std::optional<double>(const RectifierChain&)>& get,
                             const std::function<void(RectifierChain&, std::optional<double>)>& set,
                             const QString& hint, bool plain, bool zero)
{
    ValueSpec spec{.label = label,
                   .quantity = quantity,
                   .get =
                       [get](const Job& job) {
                           const RectifierChain* chain = plannedChain(job);
                           return chain != nullptr ? get(*chain) : std::nullopt;
                       },
                   .set =
                       [set](Job& job, std::optional<double> v) {
                           const RectifierChain* chain = plannedChain(job);
                           if (chain == nullptr)
                               return;
                           RectifierChain changed = *chain;
                           set(changed, v);
                           job.plan.chain = changed;
                       },
                   .zeroAllowed = zero,
                   .plain = plain,
                   .hint = hint,
                   .wrong = [](const Job& job) { return problemOf(*plannedChain(job)); }};
    m_form->addRow(label, new ValueField(std::move(spec), m_session));
}

void RectifierPage::addChoice(const QString& label, const QStringList& words, int current,
                              const std::function<void(RectifierChain&, int)>& set)
{
    auto* combo = new QComboBox;
    combo->addItems(words);
    combo->setCurrentIndex(current);
    combo->setAccessibleName(label);
    m_form->addRow(label, combo);
    connect(combo, &QComboBox::activated, this, [this, label, set](int at) {
        edit(label, [set, at](RectifierChain& chain) { set(chain, at); });
    });
}

void RectifierPage::sourceFields(const RectifierChain& /*chain*/)
{
    addField(
        tr("Secondary"), Quantity::Voltage,
        [](const RectifierChain& c) { return std::optional(c.source.v_rms_v); },
        [](RectifierChain& c, std::optional<double> v) { c.source.v_rms_v = v.value_or(c.source.v_rms_v); },
        tr("290V"));
    addField(
        tr("Its resistance"), Quantity::Resistance,
        [](const RectifierChain& c) { return std::optional(c.source.r_ohm); },
        [](RectifierChain& c, std::optional<double> v) { c.source.r_ohm = v.value_or(c.source.r_ohm); },
        tr("160R"));
    addField(
        tr("Its leakage"), Quantity::Inductance, [](const RectifierChain& c) { return c.source.l_h; },
        [](RectifierChain& c, std::optional<double> v) { c.source.l_h = v; }, tr("1mH"));
    addField(
        tr("Frequency"), Quantity::Frequency,
        [](const RectifierChain& c) { return std::optional(c.source.f_hz); },
        [](RectifierChain& c, std::optional<double> v) { c.source.f_hz = v.value_or(c.source.f_hz); },
        tr("50Hz"));
}

void RectifierPage::rectifierFields(const RectifierChain& chain)
{
    addChoice(
        tr("Kind"), rectifierNames(), static_cast<int>(chain.rectifier.kind), [](RectifierChain& c, int at) {
            c.rectifier.kind = static_cast<SimRectifier>(at);
            const bool doubler = c.rectifier.kind == SimRectifier::Doubler;
            if (doubler && !c.rectifier.upper) {
                const bool first = !c.filter.empty() && c.filter.front().kind == SmoothingKind::C;
                const SmoothingSection part = first ? c.filter.front() : SmoothingSection{.c_f = 100e-6};
                c.rectifier.upper = part;
                c.rectifier.lower = part;
                if (first)
                    c.filter.erase(c.filter.begin());
            } else if (!doubler && c.rectifier.upper) {
                c.filter.insert(c.filter.begin(), *c.rectifier.upper);
                c.rectifier.upper.reset();
                c.rectifier.lower.reset();
            }
        });
    addChoice(tr("Diodes are"), {tr("a threshold"), tr("junctions"), tr("a valve")},
              static_cast<int>(chain.rectifier.diode.model), [](RectifierChain& c, int at) {
                  static const std::array<SimDiode, 3> usual{
                      SimDiode{.model = DiodeModel::Threshold, .v_f_v = 0.8, .r_ohm = 0.03},
                      SimDiode{.model = DiodeModel::Exponential, .r_ohm = 0.02, .i_s_a = 2e-9, .n = 1.7},
                      SimDiode{.model = DiodeModel::Valve, .perveance_a_v15 = 2.5e-4, .r_plate_ohm = 50}};
                  c.rectifier.diode = usual.at(static_cast<std::size_t>(at));
              });
    const auto member = [this](const QString& label, Quantity quantity, double SimDiode::*at,
                               const QString& hint, bool plain = false) {
        addField(
            label, quantity, [at](const RectifierChain& c) { return std::optional(c.rectifier.diode.*at); },
            [at](RectifierChain& c, std::optional<double> v) { c.rectifier.diode.*at = v.value_or(0); }, hint,
            plain, true);
    };
    switch (chain.rectifier.diode.model) {
    case DiodeModel::Threshold:
        member(tr("Threshold"), Quantity::Voltage, &SimDiode::v_f_v, tr("0.8V"));
        member(tr("and ohms"), Quantity::Resistance, &SimDiode::r_ohm, tr("0R03"));
        break;
    case DiodeModel::Exponential:
        member(tr("Saturation"), Quantity::Current, &SimDiode::i_s_a, tr("2nA"));
        member(tr("Ideality"), Quantity::Resistance, &SimDiode::n, tr("1.7"), true);
        member(tr("and ohms"), Quantity::Resistance, &SimDiode::r_ohm, tr("0R02"));
        break;
    case DiodeModel::Valve:
        member(tr("Perveance, A/V^1.5"), Quantity::Resistance, &SimDiode::perveance_a_v15, tr("0.00025"),
               true);
        member(tr("Plate resistor"), Quantity::Resistance, &SimDiode::r_plate_ohm, tr("50R"));
        break;
    }
    const auto rating = [this](const QString& label, Quantity quantity,
                               std::optional<double> RectifierRatings::*at, const QString& hint) {
        m_form->addRow(
            label, new ValueField(
                       {.label = label,
                        .quantity = quantity,
                        .get = [at](const Job& j) { return j.found.mains_side.ratings.*at; },
                        .set = [at](Job& j, std::optional<double> v) { j.found.mains_side.ratings.*at = v; },
                        .hint = hint},
                       m_session));
    };
    rating(tr("Bears in reverse"), Quantity::Voltage, &RectifierRatings::v_piv_v, tr("1400V"));
    rating(tr("Peak current"), Quantity::Current, &RectifierRatings::i_peak_a, tr("400mA"));
    rating(tr("Mean current"), Quantity::Current, &RectifierRatings::i_mean_a, tr("70mA"));
    rating(tr("Largest first C"), Quantity::Capacitance, &RectifierRatings::c_first_max_f, tr("4u"));
    rating(tr("Least plate ohms"), Quantity::Resistance, &RectifierRatings::r_plate_min_ohm, tr("150R"));
}

void RectifierPage::sectionFields(const RectifierChain& chain, std::size_t section)
{
    const auto member = [this, section](const QString& label, Quantity quantity, double SmoothingSection::*at,
                                        const QString& hint, bool zero) {
        addField(
            label, quantity,
            [section, at](const RectifierChain& c) {
                return section < c.filter.size() ? std::optional(c.filter[section].*at) : std::nullopt;
            },
            [section, at](RectifierChain& c, std::optional<double> v) {
                if (section < c.filter.size())
                    c.filter[section].*at = v.value_or(0);
            },
            hint, false, zero);
    };
    const auto rating = [this, section](const QString& label, Quantity quantity,
                                        std::optional<double> SmoothingSection::*at, const QString& hint) {
        addField(
            label, quantity,
            [section, at](const RectifierChain& c) {
                return section < c.filter.size() ? c.filter[section].*at : std::nullopt;
            },
            [section, at](RectifierChain& c, std::optional<double> v) {
                if (section < c.filter.size())
                    c.filter[section].*at = v;
            },
            hint);
    };
    switch (chain.filter[section].kind) {
    case SmoothingKind::C:
        member(tr("Capacitor"), Quantity::Capacitance, &SmoothingSection::c_f, tr("8u"), false);
        member(tr("Its ESR"), Quantity::Resistance, &SmoothingSection::esr_ohm, tr("2R"), true);
        rating(tr("Rated"), Quantity::Voltage, &SmoothingSection::v_rated_v, tr("450V"));
        rating(tr("Ripple current"), Quantity::Current, &SmoothingSection::i_ripple_a, tr("120mA"));
        break;
    case SmoothingKind::L:
        member(tr("Choke"), Quantity::Inductance, &SmoothingSection::l_h, tr("10H"), false);
        member(tr("Its wire"), Quantity::Resistance, &SmoothingSection::r_ohm, tr("220R"), true);
        break;
    case SmoothingKind::R:
        member(tr("Resistor"), Quantity::Resistance, &SmoothingSection::r_ohm, tr("1k"), false);
        break;
    }
}

void RectifierPage::loadFields(const RectifierChain& chain)
{
    const int kind = chain.load.resistance_ohm ? 0 : chain.load.current_a ? 1 : 2;
    addChoice(tr("Load is"), {tr("a resistance"), tr("a current"), tr("a power")}, kind,
              [](RectifierChain& c, int at) {
                  const double v = std::max(1.0, c.noLoadVolts() * 0.7);
                  const double i = c.load.current_a ? *c.load.current_a
                                   : c.load.power_w ? *c.load.power_w / v
                                                    : v / *c.load.resistance_ohm;
                  c.load = at == 0   ? SimLoad{.resistance_ohm = v / std::max(i, 1e-6)}
                           : at == 1 ? SimLoad{.current_a = i}
                                     : SimLoad{.power_w = v * i, .v_min_v = v / 2};
              });
    if (kind == 0)
        addField(
            tr("Load"), Quantity::Resistance, [](const RectifierChain& c) { return c.load.resistance_ohm; },
            [](RectifierChain& c, std::optional<double> v) {
                c.load.resistance_ohm = v.value_or(*c.load.resistance_ohm);
            },
            tr("4k"));
    else if (kind == 1)
        addField(
            tr("Load"), Quantity::Current, [](const RectifierChain& c) { return c.load.current_a; },
            [](RectifierChain& c, std::optional<double> v) { c.load.current_a = v.value_or(0); }, tr("70mA"),
            false, true);
    else
        addField(
            tr("Load"), Quantity::Power, [](const RectifierChain& c) { return c.load.power_w; },
            [](RectifierChain& c, std::optional<double> v) { c.load.power_w = v.value_or(0); }, tr("40W"),
            false, true);
}

void RectifierPage::rebuildFields()
{
    const RectifierChain* chain = plannedChain(m_session.job());
    const int part = m_strip->chosen();
    const std::string shape = chain != nullptr ? shapeOf(*chain) : "";
    if (m_form != nullptr && part == m_fieldsOf && shape == m_fieldsShape)
        return;
    m_fieldsOf = part;
    m_fieldsShape = shape;
    delete m_form;
    qDeleteAll(m_fields->findChildren<QWidget*>(QString(), Qt::FindDirectChildrenOnly));
    m_form = new QFormLayout(m_fields);
    m_form->setContentsMargins(0, 0, 0, 0);
    m_form->setVerticalSpacing(m_look.px(2));
    if (chain == nullptr)
        return;
    if (part == 0)
        sourceFields(*chain);
    else if (part == 1)
        rectifierFields(*chain);
    else if (part - firstSection < static_cast<int>(chain->filter.size()))
        sectionFields(*chain, static_cast<std::size_t>(part - firstSection));
    else
        loadFields(*chain);
}

/// The chain as found is simulated too, to stand behind the planned one.
void RectifierPage::compare()
{
    const Job& job = m_session.job();
    const auto& found = job.found.mains_side.chain;
    if (!found || !job.plan.chain || *found == *job.plan.chain) {
        m_before.reset();
        m_shownBefore.reset();
    } else if (m_shownBefore != found) {
        m_shownBefore = found;
        RectifierInput input = *chainInput(job);
        input.chain = *found;
        m_runBefore.start(input);
    }
}

void RectifierPage::refresh()
{
    const RectifierChain* chain = plannedChain(m_session.job());
    m_strip->show(chain, m_strip->chosen());
    rebuildFields();
    m_dropper->follow(chosenSection());
    compare();
    if (const ChainRun* run = m_session.chainRun())
        m_shown = *run;
    else if (chain == nullptr || !m_session.chainProblem().isEmpty())
        m_shown.reset();
    m_stop->setEnabled(m_session.simulating());
    setSentence(chain == nullptr                      ? tr("Rectifier and smoothing: start with a chain.")
                : !m_session.chainProblem().isEmpty() ? m_session.chainProblem()
                : m_session.chainRun() != nullptr     ? qs(rectifierSentence(*m_shown))
                                                      : tr("Simulating…"));
    m_waves->show(m_shown ? std::optional(m_shown->result) : std::nullopt, m_before, m_session.simulating(),
                  0);
    auto limits = chainRows(m_session.job(), m_session.chainRun());
    std::erase_if(limits, [](const ConsequenceRow& row) { return row.id == RowId::ChainOutput; });
    countAndSort(limits);
    m_bars->show(std::move(limits));
    m_figures->setText(figuresHtml());
}

QString RectifierPage::figuresHtml() const
{
    if (!m_shown)
        return {};
    const SteadyResult& r = m_shown->result;
    QString html = u"<table cellspacing='0' cellpadding='2'>"_s;
    const auto row = [&](const QString& name, const QString& value) {
        html += u"<tr><td>%1</td><td><b>%2</b></td></tr>"_s.arg(name, value);
    };
    const auto name = [this](const std::string& part) {
        return qs(chainPartName(m_shown->input.chain, part));
    };
    row(tr("load"),
        tr("%1, %2 p-p")
            .arg(volts(r.load.v.v_mean_v), qs(formatValue(r.load.v.ripple_pp_v, Quantity::Voltage))));
    row(tr("without load"), volts(r.no_load_v));
    const SimDiodeFigures& d = r.diodes.front();
    row(tr("each path"), tr("%1 peak, %2 mean, %3 reverse")
                             .arg(amps(d.i_peak_a), amps(d.i_mean_a), volts(d.v_reverse_peak_v)));
    row(tr("secondary"), tr("%1 rms, %2 VA").arg(amps(r.source.i_rms_a), qs(significant(r.source.va, 3))));
    for (const SimNode& node : r.nodes)
        row(name(node.section),
            tr("%1, ripple current %2").arg(volts(node.v.v_mean_v), amps(node.capacitor_i_rms_a)));
    for (const SimSeries& s : r.series)
        row(name(std::to_string(s.section)),
            tr("%1 mean, %2").arg(amps(s.i_mean_a), qs(formatValue(s.power_w, Quantity::Power))));
    return html + u"</table>"_s;
}

} // namespace offshoot::ui
