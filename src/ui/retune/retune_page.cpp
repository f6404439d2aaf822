#include "ui/retune/retune_page.h"

#include "core/evaluate/evaluation.h"
#include "core/kinds/divider/temporary_trimmer.h"
#include "core/kinds/job_figures.h"
#include "core/values/format.h"
#include "ui/fields/tabs.h"
#include "ui/fields/value_field.h"
#include "ui/paint/axes.h"
#include "ui/paint/marks.h"
#include "ui/plan/workspace_page.h"
#include "ui/refresh.h"
#include "ui/retune/divider_drawing.h"
#include "ui/retune/travel_picture.h"

#include <QComboBox>
#include <QFormLayout>
#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QScrollArea>
#include <QStackedWidget>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>

namespace offshoot::ui {

using namespace Qt::StringLiterals;

CandidateModel::CandidateModel(JobSession& session, QObject* parent)
    : QAbstractListModel(parent)
    , m_session(session)
{
    connect(&session, &JobSession::changed, this, &CandidateModel::take);
    take();
}

void CandidateModel::take()
{
    const auto& next = m_session.evaluation().candidates;
    const bool same =
        next.size() == m_candidates.size() && std::equal(next.begin(), next.end(), m_candidates.begin(),
                                                         [](const Candidate& a, const Candidate& b) {
                                                             return a.option.method == b.option.method &&
                                                                    a.option.network == b.option.network;
                                                         });
    if (!same)
        beginResetModel();
    m_candidates = next;
    if (!same)
        endResetModel();
    else if (!m_candidates.empty())
        Q_EMIT dataChanged(index(0), index(CandidateModel::rowCount() - 1));
}

int CandidateModel::rowCount(const QModelIndex& parent) const
{
    return parent.isValid() ? 0 : static_cast<int>(m_candidates.size());
}

QVariant CandidateModel::data(const QModelIndex& index, int role) const
{
    if (!index.isValid() || (role != Qt::DisplayRole && role != Qt::AccessibleTextRole))
        return {};
    const DividerOption& o = at(index.row()).option;
    return tr("%1 %2: %3, worst case %4 to %5 V, opens %6")
        .arg(qs(o.network.prettyText()), methodPhrase(o.method), qs(formatVolts(o.v)),
             qs(fixed(o.worst_min_v, 2)), qs(fixed(o.worst_max_v, 2)), outcomePhrase(o.if_open));
}

int CandidateModel::rowOf(const ChosenNetwork& chosen) const
{
    for (int i = 0; i < rowCount(); ++i)
        if (at(i).option.method == chosen.method && at(i).option.network == chosen.network)
            return i;
    return -1;
}

RulerScale rulerScale(const Target& target, double left, double right)
{
    // Wide enough for the spread of one-per-cent parts around the window, the same for every row.
    const double width = std::max(target.max_v - target.min_v, target.v * 0.012);
    const double room = std::max(width * 1.1, target.v * 0.036);
    return {target.min_v - room, target.max_v + room, left, right};
}

CandidateDelegate::CandidateDelegate(const CandidateModel& model, JobSession& session, Look& look,
                                     QObject* parent)
    : QStyledItemDelegate(parent)
    , m_model(model)
    , m_session(session)
    , m_look(look)
{}

QSize CandidateDelegate::sizeHint(const QStyleOptionViewItem& /*option*/, const QModelIndex& /*index*/) const
{
    return {m_look.px(300), m_look.px(50)};
}

void CandidateDelegate::paint(QPainter* painter, const QStyleOptionViewItem& option,
                              const QModelIndex& index) const
{
    const Colours& c = m_look.colours();
    const auto& target = m_session.job().need.target;
    const Candidate& candidate = m_model.at(index.row());
    const DividerOption& o = candidate.option;
    const QRectF box = option.rect;
    painter->save();
    painter->setRenderHint(QPainter::Antialiasing);
    const RulerScale scale = rulerScale(*target, box.left() + m_look.px(10), box.right() - m_look.px(10));
    QColor band = c.fits;
    band.setAlpha(m_look.dark() ? 46 : 34);
    painter->fillRect(QRectF(scale.x(target->min_v), box.top(),
                             scale.x(target->max_v) - scale.x(target->min_v), box.height()),
                      band);
    painter->setPen(QPen(c.fits, 1.2, Qt::DashLine));
    painter->drawLine(QPointF(scale.x(target->v), box.top()), QPointF(scale.x(target->v), box.bottom() + 1));
    const bool selected = (option.state & QStyle::State_Selected) != 0;
    if (selected) {
        painter->setPen(QPen(c.planned, 1.6));
        painter->setBrush(Qt::NoBrush);
        painter->drawRoundedRect(box.adjusted(1, 1, -1, -1), 4, 4);
    }
    const auto& chosen = m_session.job().plan.chosen;
    const bool planned = chosen && chosen->method == o.method && chosen->network == o.network;
    const bool bad = o.if_open.runaway || o.if_open.outcome == Outcome::High;
    const QString right = tr("%1 · opens: %2").arg(qs(formatVolts(o.v)), outcomePhrase(o.if_open));
    const double rightWidth = QFontMetricsF(m_look.font(13)).horizontalAdvance(right) + 6;
    const QRectF line(box.left() + m_look.px(12), box.top() + m_look.px(3), box.width() - m_look.px(24),
                      m_look.px(20));
    paintText(*painter, QRectF(line.right() - rightWidth, line.top(), rightWidth, line.height()), right,
              m_look.font(13), bad ? c.breaks : c.softInk, Qt::AlignRight | Qt::AlignVCenter);
    const QString name = u"%1 %2"_s.arg(qs(o.network.prettyText()), methodPhrase(o.method));
    paintText(*painter, QRectF(line.left(), line.top(), line.width() - rightWidth - 10, line.height()), name,
              m_look.font(14, true), planned ? c.planned : c.ink);

    const auto bar = [&](double from, double to, double h, const QColor& colour) {
        const double a = std::clamp(scale.x(from), box.left() + 2, box.right() - 2);
        const double b = std::clamp(scale.x(to), box.left() + 2, box.right() - 2);
        painter->setPen(Qt::NoPen);
        painter->setBrush(colour);
        painter->drawRoundedRect(QRectF(a, box.top() + m_look.px(35) - h / 2, std::max(b - a, 2.0), h), 2, 2);
    };
    bar(candidate.plain.min_v, candidate.plain.max_v, m_look.px(10), c.ribbon);
    if (o.has_before)
        bar(o.worst_min_v, o.worst_max_v, m_look.px(10), c.loss);
    const double dot = scale.x(o.v);
    painter->setBrush(o.worst_in_window ? c.planned : o.in_window ? c.tight : c.breaks);
    if (dot > box.left() && dot < box.right())
        painter->drawEllipse(QPointF(dot, box.top() + m_look.px(35)), m_look.px(5), m_look.px(5));
    painter->restore();
}

RulerAxis::RulerAxis(JobSession& session, Look& look, QWidget* parent)
    : QWidget(parent)
    , m_session(session)
    , m_look(look)
{
    connect(&session, &JobSession::changed, this, qOverload<>(&QWidget::update));
}

QSize RulerAxis::sizeHint() const { return {m_look.px(300), m_look.px(30)}; }

void RulerAxis::paintEvent(QPaintEvent* /*event*/)
{
    const auto& target = m_session.job().need.target;
    if (!target || m_session.evaluation().candidates.empty())
        return;
    QPainter painter(this);
    const Colours& c = m_look.colours();
    const RulerScale scale = rulerScale(*target, m_look.px(10), width() - m_look.px(10));
    painter.setPen(QPen(c.ink, 1));
    painter.drawLine(QPointF(scale.left, 1), QPointF(scale.right, 1));
    const double span = scale.high_v - scale.low_v;
    const double step = niceStep(span, 8);
    const int decimals = std::max(0, static_cast<int>(-std::floor(std::log10(step) + 1e-9)));
    for (const double v : ticks(scale.low_v, scale.high_v, step)) {
        painter.setPen(QPen(c.ink, 1));
        painter.drawLine(QPointF(scale.x(v), 1), QPointF(scale.x(v), 6));
        paintText(painter, QRectF(scale.x(v) - 40, 8, 80, m_look.px(18)), qs(fixed(v, decimals)),
                  m_look.caption(), c.softInk, Qt::AlignCenter);
    }
    paintText(painter, QRectF(scale.right - 12, 8, 20, m_look.px(18)), u"V"_s, m_look.caption(), c.softInk,
              Qt::AlignRight);
}

RetunePage::RetunePage(JobSession& session, Look& look, QWidget* parent)
    : QWidget(parent)
    , m_session(session)
    , m_look(look)
    , m_model(new CandidateModel(session, this))
    , m_stack(new QStackedWidget(this))
{
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(look.px(20), look.px(10), look.px(14), look.px(4));
    auto* head = new QHBoxLayout;
    auto* title = new QLabel(tr("Retune the output"));
    title->setProperty("role", u"title"_s);
    head->addWidget(title);
    head->addStretch();
    addTabs(*head, {tr("Fixed part"), tr("Temporary trimmer"), tr("Two schools")}, [this](int index) {
        m_session.clearPreview();
        m_stack->setCurrentIndex(index);
        if (index < 2)
            m_session.edit(tr("route"), [index](Job& job) { job.plan.route = static_cast<Route>(index); });
    });
    layout->addLayout(head);
    auto* row = new QHBoxLayout;
    auto* drawing = new DividerDrawing(session, look, DividerDrawing::Shows::PlanAndFaults);
    drawing->setFixedWidth(look.px(272));
    row->addWidget(drawing);
    row->addWidget(m_stack, 1);
    layout->addLayout(row, 1);
    m_stack->addWidget(fixedPart());
    m_stack->addWidget(trimmer());
    m_stack->addWidget(schools());
    connect(&session, &JobSession::changed, this, &RetunePage::followPlan);
    followPlan();
}

QWidget* RetunePage::fixedPart()
{
    auto* box = new QWidget;
    auto* layout = new QVBoxLayout(box);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(0);
    auto* window = new QLabel;
    window->setAlignment(Qt::AlignCenter);
    window->setWordWrap(true);
    auto* head = new QHBoxLayout;
    head->setSpacing(m_look.px(12));
    head->addWidget(window, 1);
    head->addWidget(new TickField(
        tr("one part"), [](const Job& j) { return j.plan.max_parts == 1; },
        [](Job& j, bool on) { j.plan.max_parts = on ? 1 : 2; }, m_session));
    layout->addLayout(head);
    m_list = new QListView;
    m_list->setObjectName(u"candidates"_s);
    m_list->setAccessibleName(tr("Candidates from the drawer, best first"));
    m_list->setModel(m_model);
    m_list->setItemDelegate(new CandidateDelegate(*m_model, m_session, m_look, m_list));
    m_list->setVerticalScrollMode(QAbstractItemView::ScrollPerPixel);
    m_list->setVerticalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    layout->addWidget(m_list, 1);
    layout->addWidget(new RulerAxis(m_session, m_look));
    layout->addWidget(ownNetwork());
    connect(m_list->selectionModel(), &QItemSelectionModel::currentChanged, this,
            [this](const QModelIndex& index) {
                if (m_list->hasFocus()) // else it follows the plan
                    previewRow(index);
            });
    connect(m_list, &QListView::clicked, this, &RetunePage::previewRow);
    connect(m_list, &QListView::activated, this, [this](const QModelIndex& index) { plan(index.row()); });
    connect(m_list, &QListView::doubleClicked, this, [this](const QModelIndex& index) { plan(index.row()); });
    const auto show = [this, window] {
        const Evaluation& e = m_session.evaluation();
        const auto& target = m_session.job().need.target;
        const Colours& c = m_look.colours();
        if (!target)
            window->setText(tr("Say in Need what the load wants."));
        else if (!e.divider)
            window->setText(tr(
                "Enter reference and both legs in Found, then every candidate from the drawer stands here."));
        else if (!e.before_message.empty())
            window->setText(u"<span style='color:%1'>%2</span>"_s.arg(c.breaks.name(), qs(e.before_message)));
        else if (m_session.job().drawer.empty())
            window->setText(tr("The drawer is empty: import one with Ctrl+K, drawer."));
        else
            window->setText(
                u"<b style='color:%1'>%2</b>"_s.arg(
                    c.fits.name(),
                    tr("window %1 to %2 V").arg(qs(fixed(target->min_v, 2)), qs(fixed(target->max_v, 2)))) +
                u" <span style='color:%1'> %2</span>"_s.arg(
                    c.softInk.name(), e.before ? tr("· pale: tolerances, strong: reading")
                                               : tr("· a before-reading will narrow these")));
    };
    refreshWhileVisible(*window, m_session, m_look, show);
    return box;
}

QWidget* RetunePage::ownNetwork()
{
    auto* box = new QWidget;
    auto* row = new QHBoxLayout(box);
    row->setContentsMargins(0, m_look.px(4), 0, 0);
    auto* network = new QLineEdit;
    network->setObjectName(u"ownNetwork"_s);
    network->setPlaceholderText(tr("your own: 33k||27k"));
    network->setAccessibleName(tr("Your own network"));
    auto* method = new QComboBox;
    method->setAccessibleName(tr("How it joins"));
    method->addItems(methodPhrases());
    method->setCurrentIndex(static_cast<int>(DividerMethod::ParallelBottom));
    auto* keys = new QLabel(tr("↑ ↓ look · Enter plan it"));
    keys->setProperty("role", u"caption"_s);
    auto* problem = new QLabel;
    problem->setProperty("role", u"problem"_s);
    row->addWidget(network);
    row->addWidget(method);
    row->addWidget(problem, 1);
    row->addWidget(keys);
    connect(network, &QLineEdit::returnPressed, this, [=, this] {
        const LegReading leg = readLeg(network->text());
        problem->setText(leg.network ? QString() : leg.message);
        if (!leg.network)
            return;
        ChosenNetwork chosen{static_cast<DividerMethod>(method->currentIndex()), *leg.network, {}};
        for (double ohm : leg.network->parts()) {
            // A part of that value from the drawer lends its tolerance; otherwise 1 %, a quarter watt.
            StockItem part{.ohm = ohm, .tolerance = 0.01, .power_w = 0.25};
            for (const StockItem& item : m_session.job().drawer)
                if (std::abs(item.ohm - ohm) < 1e-9 * ohm && item.tolerance <= part.tolerance)
                    part = item;
            chosen.parts.push_back(part);
        }
        m_session.edit(tr("plan %1").arg(qs(leg.network->prettyText())),
                       [&](Job& job) { job.plan.chosen = chosen; });
    });
    return box;
}

void RetunePage::previewRow(const QModelIndex& index)
{
    if (!index.isValid())
        return;
    const DividerOption& o = m_model->at(index.row()).option;
    const ChosenNetwork chosen{o.method, o.network, o.parts};
    m_session.preview([&](Job& job) { job.plan.chosen = chosen; });
}

void RetunePage::plan(int row)
{
    if (row < 0 || row >= m_model->rowCount())
        return;
    const DividerOption& o = m_model->at(row).option;
    const ChosenNetwork chosen{o.method, o.network, o.parts};
    m_session.edit(tr("plan %1 %2").arg(qs(o.network.prettyText()), methodPhrase(o.method)), [&](Job& job) {
        job.plan.chosen = chosen;
        job.plan.route = Route::FixedPart;
    });
}

void RetunePage::followPlan()
{
    if (m_list->hasFocus())
        return;
    const auto& chosen = m_session.job().plan.chosen;
    const int row = chosen ? m_model->rowOf(*chosen) : -1;
    if (row >= 0)
        m_list->setCurrentIndex(m_model->index(row));
}

void RetunePage::hideEvent(QHideEvent* event)
{
    m_session.clearPreview();
    QWidget::hideEvent(event);
}

/// What the trimmer of the plan does at each point of its travel.
QString RetunePage::trimmerWords() const
{
    const auto& t = m_session.evaluation().trimmer;
    if (!t)
        return tr("Need and divider first.");
    const Colours& c = m_look.colours();
    const auto volts = [](const std::optional<double>& v) {
        return v ? qs(formatVolts(*v)) : tr("runs away");
    };
    QStringList lines;
    lines << tr("<b>Preset to %1 before first power</b>: that gives %2.")
                 .arg(qs(formatOhms(std::round(t->preset_ohm))), volts(t->preset_v));
    lines << tr("Wiper open: %1 (%2).").arg(volts(t->open_wiper.v), outcomePhrase(t->open_wiper));
    lines << (t->target_ohm ? tr("The target stands at %1, %2 of the travel.")
                                  .arg(qs(formatOhms(std::round(*t->target_ohm))),
                                       qs(formatPercent(*t->target_travel, 2)))
                            : u"<span style='color:%1'>%2</span>"_s.arg(
                                  c.breaks.name(),
                                  tr("The target is off the travel: take another trimmer or fixed part.")));
    if (const auto use = trimmerUse(m_session.job(), m_session.evaluation()); use && !use->problem.empty())
        lines << u"<span style='color:%1'>%2</span>"_s.arg(
            c.breaks.name(), tr("The procedure leaves it out. %1").arg(qs(use->problem).toHtmlEscaped()));
    constexpr double coarse = 0.05;
    const bool tooCoarse = t->window_travel.value_or(0) < coarse;
    lines << tr("The window takes %1 of the travel%2.")
                 .arg(qs(formatPercent(t->window_travel.value_or(0), 2)),
                      tooCoarse ? tr(": too coarse to set well") : QString());
    if (t->predicted_v)
        lines << tr("<b>As measured it gives %1.</b> Fit a fixed part of that value: type it under Fixed "
                    "part.")
                     .arg(volts(t->predicted_v));
    lines << tr("Turn it live only on the isolated secondary side, with an insulated tool and the "
                "primary covered.");
    return lines.join(u"<br>"_s);
}

QWidget* RetunePage::trimmer()
{
    auto* box = new QWidget;
    auto* layout = new QVBoxLayout(box);
    auto* form = new QFormLayout;
    form->addRow(tr("It goes"),
                 new ChoiceField(
                     tr("How the trimmer joins"), methodPhrases(),
                     [](const Job& j) { return static_cast<int>(j.plan.trimmer.method); },
                     [](Job& j, int at) { j.plan.trimmer.method = static_cast<DividerMethod>(at); },
                     m_session));
    const auto add = [&](const QString& label, std::optional<double> (*get)(const Job&),
                         void (*set)(Job&, std::optional<double>), bool zero) {
        addValueRow(
            *form,
            {.label = label, .quantity = Quantity::Resistance, .get = get, .set = set, .zeroAllowed = zero},
            m_session);
    };
    add(
        tr("Trimmer"), [](const Job& j) { return std::optional(j.plan.trimmer.pot_ohm); },
        [](Job& j, std::optional<double> v) { j.plan.trimmer.pot_ohm = v.value_or(10000); }, false);
    add(
        tr("Fixed in series"), [](const Job& j) { return std::optional(j.plan.trimmer.fixed_ohm); },
        [](Job& j, std::optional<double> v) { j.plan.trimmer.fixed_ohm = v.value_or(0); }, true);
    add(
        tr("Measured after trimming"), [](const Job& j) { return j.plan.trimmer.measured_ohm; },
        [](Job& j, std::optional<double> v) { j.plan.trimmer.measured_ohm = v; }, true);
    form->addRow(QString(), new TickField(
                                tr("wiper joined to the far end"),
                                [](const Job& j) { return j.plan.trimmer.wiper_tied; },
                                [](Job& j, bool on) { j.plan.trimmer.wiper_tied = on; }, m_session));
    auto* usual = new QPushButton;
    usual->setObjectName(u"usualTrimmer"_s);
    form->addRow(QString(), usual);
    connect(usual, &QPushButton::clicked, this, [this] {
        m_session.edit(tr("usual trimmer"), [choice = m_session.evaluation().usual_trimmer](Job& job) {
            if (!choice)
                return;
            job.plan.trimmer.pot_ohm = choice->pot_ohm;
            job.plan.trimmer.fixed_ohm = choice->fixed_ohm;
        });
    });
    layout->addLayout(form);
    layout->addWidget(new TravelPicture(m_session, m_look));
    auto* says = new QLabel;
    says->setWordWrap(true);
    says->setTextFormat(Qt::RichText);
    layout->addWidget(says);
    layout->addStretch();
    const auto show = [=, this] {
        const auto& choice = m_session.evaluation().usual_trimmer;
        usual->setEnabled(choice.has_value());
        usual->setText(!choice ? tr("no trimmer reaches the target from here")
                       : choice->fixed_ohm > 0
                           ? tr("Take the usual: %1 and %2 in series")
                                 .arg(qs(formatOhms(choice->pot_ohm)), qs(formatOhms(choice->fixed_ohm)))
                           : tr("Take the usual: %1").arg(qs(formatOhms(choice->pot_ohm))));
        says->setText(trimmerWords());
    };
    refreshWhileVisible(*says, m_session, m_look, show);
    return box;
}

QWidget* RetunePage::schools()
{
    auto* area = new QScrollArea;
    area->setWidgetResizable(true);
    auto* says = new QLabel;
    says->setWordWrap(true);
    says->setTextFormat(Qt::RichText);
    says->setAlignment(Qt::AlignTop);
    says->setContentsMargins(m_look.px(8), m_look.px(6), m_look.px(8), 0);
    area->setWidget(says);
    const auto show = [=, this] {
        const QString html = schoolsHtml(m_session.evaluation().schools, m_look.colours());
        says->setText(html.isEmpty() ? tr("Plan a part, then the schools stand here with this job's figures.")
                                     : html);
    };
    refreshWhileVisible(*says, m_session, m_look, show);
    return area;
}

} // namespace offshoot::ui
