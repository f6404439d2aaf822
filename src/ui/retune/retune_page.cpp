#include "ui/retune/retune_page.h"

#include "core/evaluate/evaluation.h"
#include "core/kinds/divider/divider_schools.h"
#include "core/kinds/divider/temporary_trimmer.h"
#include "core/kinds/job_figures.h"
#include "core/values/format.h"
#include "ui/fields/tabs.h"
#include "ui/fields/value_field.h"
#include "ui/paint/axes.h"
#include "ui/paint/marks.h"
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

RetunePage::RetunePage(JobSession& session, Look& look, QWidget* parent)
    : WorkspacePage(session, look, parent)
    , m_model(new CandidateModel(session, this))
    , m_window(richText())
    , m_travel(richText())
    , m_usual(new QPushButton)
    , m_schools(richText())
    , m_stack(new QStackedWidget(this))
{
    auto* drawing = new DividerDrawing(session, look, DividerDrawing::Shows::PlanAndFaults);
    sizedWith(*drawing, look, [drawing, &look] { drawing->setFixedWidth(look.px(272)); });
    body().addWidget(drawing);
    auto* side = new QVBoxLayout;
    auto* onePart = new TickField(
        tr("one part"), [](const Job& j) { return j.plan.max_parts == 1; },
        [](Job& j, bool on) { j.plan.max_parts = on ? 1 : 2; }, session);
    auto* head = new QHBoxLayout;
    addTabs(*head, {tr("Fixed part"), tr("Temporary trimmer"), tr("Two schools")},
            [this, onePart](int index) {
                m_session.clearPreview();
                onePart->setVisible(index == 0);
                m_stack->setCurrentIndex(index);
                if (index < 2)
                    m_session.edit(tr("route"),
                                   [index](Job& job) { job.plan.route = static_cast<Route>(index); });
            });
    head->addStretch();
    head->addWidget(onePart);
    side->addLayout(head);
    side->addWidget(m_stack, 1);
    body().addLayout(side, 1);
    m_stack->addWidget(fixedPart());
    m_stack->addWidget(scrolling(trimmer()));
    m_stack->addWidget(scrolling(m_schools));
    follow();
    connect(&session, &JobSession::changed, this, &RetunePage::followPlan);
    followPlan();
}

void RetunePage::refresh()
{
    setSentence(sentence());
    m_window->setText(windowWords());
    m_travel->setText(trimmerWords());
    const auto& choice = m_session.evaluation().usual_trimmer;
    m_usual->setEnabled(choice.has_value());
    m_usual->setText(!choice ? tr("no trimmer reaches the target from here")
                     : choice->fixed_ohm > 0
                         ? tr("Take the usual: %1 and %2 in series")
                               .arg(qs(formatOhms(choice->pot_ohm)), qs(formatOhms(choice->fixed_ohm)))
                         : tr("Take the usual: %1").arg(qs(formatOhms(choice->pot_ohm))));
    if (!m_schools->isVisible())
        return;
    std::vector<School> schools;
    dividerSchools(m_session.job(), m_session.evaluation(), figuresOf, schools);
    m_schools->setText(schools.empty()
                           ? tr("Plan a part, then the schools stand here with this job's figures.")
                           : schoolsHtml(schools, m_look.colours()));
}

/// What the planned part gives, or what is still missing.
QString RetunePage::sentence() const
{
    const Evaluation& e = m_session.evaluation();
    if (!m_session.job().need.target)
        return tr("Say in Need what the load wants.");
    if (!e.divider)
        return tr(
            "Enter reference and both legs in Found, then every candidate from the drawer stands here.");
    if (!e.before_message.empty())
        return qs(e.before_message);
    if (e.planned) {
        const DividerOption& o = e.planned->option;
        return tr("%1 %2 gives %3, worst case %4 to %5 V.")
            .arg(qs(o.network.prettyText()), methodPhrase(o.method), qs(formatVolts(o.v)),
                 qs(fixed(o.worst_min_v, 2)), qs(fixed(o.worst_max_v, 2)));
    }
    if (m_session.job().drawer.empty())
        return tr("The drawer is empty: import one with Ctrl+K, drawer.");
    return tr("Choose what brings %1 into the window.").arg(qs(formatVolts(e.found_v.value_or(0))));
}

QString RetunePage::windowWords() const
{
    const Evaluation& e = m_session.evaluation();
    const auto& target = m_session.job().need.target;
    if (!target || !e.divider || !e.before_message.empty())
        return {};
    const Colours& c = m_look.colours();
    return u"<b style='color:%1'>%2</b>"_s.arg(
               c.fits.name(),
               tr("window %1 to %2 V").arg(qs(fixed(target->min_v, 2)), qs(fixed(target->max_v, 2)))) +
           u" <span style='color:%1'> %2</span>"_s.arg(c.softInk.name(),
                                                       e.before ? tr("· pale: tolerances, strong: reading")
                                                                : tr("· a before-reading will narrow these"));
}

QWidget* RetunePage::fixedPart()
{
    auto* box = new QWidget;
    auto* layout = new QVBoxLayout(box);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(0);
    m_window->setAlignment(Qt::AlignCenter);
    layout->addWidget(m_window);
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
    // Not what it needs at the least: a box keeps that from before its words grew.
    method->setSizePolicy(QSizePolicy::Minimum, QSizePolicy::Fixed);
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
    m_usual->setObjectName(u"usualTrimmer"_s);
    form->addRow(QString(), m_usual);
    connect(m_usual, &QPushButton::clicked, this, [this] {
        m_session.edit(tr("usual trimmer"), [choice = m_session.evaluation().usual_trimmer](Job& job) {
            if (!choice)
                return;
            job.plan.trimmer.pot_ohm = choice->pot_ohm;
            job.plan.trimmer.fixed_ohm = choice->fixed_ohm;
        });
    });
    layout->addLayout(form);
    layout->addWidget(new TravelPicture(m_session, m_look));
    layout->addWidget(m_travel);
    layout->addStretch();
    return box;
}

} // namespace offshoot::ui
