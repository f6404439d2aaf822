#include "ui/need/need_page.h"

#include "core/calculate/need_presets.h"
#include "core/values/format.h"
#include "ui/fields/tabs.h"
#include "ui/fields/value_field.h"
#include "ui/need/aim_panel.h"
#include "ui/need/survey_tab.h"
#include "ui/paint/axes.h"
#include "ui/paint/marks.h"
#include "ui/plan/workspace_page.h"

#include <QFormLayout>
#include <QGridLayout>
#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QStackedWidget>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>

namespace offshoot::ui {

using namespace Qt::StringLiterals;

WindowRuler::WindowRuler(JobSession& session, Look& look, QWidget* parent)
    : QWidget(parent)
    , m_session(session)
    , m_look(look)
{
    setAccessibleName(tr("The need's window beside the found voltage"));
    sizedWith(*this, look, [this, &look] {
        setMinimumHeight(look.px(92)); // in a low window it leaves the fields a line
        setMaximumHeight(WindowRuler::sizeHint().height());
    });
    connect(&session, &JobSession::changed, this, qOverload<>(&QWidget::update));
}

QSize WindowRuler::sizeHint() const { return {m_look.px(400), m_look.px(112)}; }

void WindowRuler::paintEvent(QPaintEvent* /*event*/)
{
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    const Colours& c = m_look.colours();
    const auto& target = m_session.job().need.target;
    if (!target) {
        paintText(painter, rect(), tr("Type the voltage the load wants, or take a preset."), m_look.text(),
                  c.softInk, Qt::AlignCenter);
        return;
    }
    const auto& found = m_session.evaluation().found_v;
    double low = std::min(target->min_v, found.value_or(target->min_v));
    double high = std::max(target->max_v, found.value_or(target->max_v));
    const double room = std::max((high - low) * 0.25, target->v * 0.02);
    low -= room;
    high += room;
    const double left = m_look.px(20);
    const double right = width() - m_look.px(20);
    const auto x = [&](double v) { return left + (v - low) / (high - low) * (right - left); };
    const double axis = height() - m_look.px(28);
    QColor band = c.fits;
    band.setAlpha(40);
    painter.fillRect(
        QRectF(x(target->min_v), m_look.px(34), x(target->max_v) - x(target->min_v), axis - m_look.px(34)),
        band);
    painter.setPen(QPen(c.fits, 1.4, Qt::DashLine));
    painter.drawLine(QPointF(x(target->v), m_look.px(34)), QPointF(x(target->v), axis));
    paintText(painter, QRectF(x(target->v) - 200, m_look.px(6), 400, m_look.px(24)),
              tr("window %1 to %2 V").arg(qs(fixed(target->min_v, 2)), qs(fixed(target->max_v, 2))),
              m_look.number(), c.fits, Qt::AlignCenter);
    painter.setPen(QPen(c.ink, 1.4));
    painter.drawLine(QPointF(left, axis), QPointF(right, axis));
    for (const double v : ticks(low, high, niceStep(high - low, 6))) {
        painter.setPen(QPen(c.ink, 1));
        painter.drawLine(QPointF(x(v), axis), QPointF(x(v), axis + m_look.px(6)));
        paintText(painter, QRectF(x(v) - 40, axis + m_look.px(8), 80, m_look.px(18)),
                  qs(significant(v, 4)) + u" V"_s, m_look.caption(), c.softInk, Qt::AlignCenter);
    }
    if (found) {
        painter.setPen(QPen(c.found, 2));
        painter.drawLine(QPointF(x(*found), m_look.px(52)), QPointF(x(*found), axis));
        paintText(painter, QRectF(x(*found) - 80, m_look.px(34), 160, m_look.px(18)),
                  tr("found %1").arg(qs(formatVolts(*found))), m_look.font(13), c.found, Qt::AlignCenter);
    }
}

namespace {

QLabel* heading(const QString& text)
{
    auto* label = new QLabel(text);
    label->setProperty("role", u"title"_s);
    return label;
}

void take(JobSession& session, const QString& name, const NeedPreset& preset)
{
    session.edit(name, [&preset](Job& job) {
        job.need.target = preset.window;
        job.need.load.kind = preset.battery ? LoadKind::Battery : LoadKind::Equipment;
        job.need.why = preset.why;
    });
}

void setTargetPart(Job& job, std::optional<double> value, double Target::*part)
{
    if (!value) {
        job.need.target.reset();
        return;
    }
    Target target = job.need.target.value_or(Target{*value, *value * 0.99, *value * 1.01});
    if (part == &Target::v) {
        const double low = target.v - target.min_v;
        const double high = target.max_v - target.v;
        target = {*value, *value - low, *value + high};
    } else {
        target.*part = *value;
        target.min_v = std::min(target.min_v, target.max_v);
        target.v = std::clamp(target.v, target.min_v, target.max_v);
    }
    job.need.target = target;
}

ValueSpec targetSpec(const QString& label, double Target::*part)
{
    return {.label = label,
            .quantity = Quantity::Voltage,
            .get =
                [part](const Job& job) {
                    return job.need.target ? std::optional((*job.need.target).*part) : std::nullopt;
                },
            .set = [part](Job& job, std::optional<double> v) { setTargetPart(job, v, part); },
            .hint = NeedPage::tr("27V6")};
}

} // namespace

NeedPage::NeedPage(JobSession& session, Look& look, QWidget* parent)
    : QWidget(parent)
    , m_session(session)
    , m_look(look)
{
    auto* outer = new QVBoxLayout(this);
    outer->setContentsMargins(look.px(22), look.px(10), look.px(18), look.px(2));
    auto* form = new QWidget;
    auto* layout = new QVBoxLayout(form);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(look.px(2));
    layout->addWidget(heading(tr("What does the load want?")));
    auto* ruler = new WindowRuler(session, look);
    layout->addWidget(ruler);
    auto* lower = new QWidget;
    auto* columns = new QHBoxLayout(lower);
    columns->setContentsMargins(0, 0, look.px(12), 0);
    columns->setSpacing(look.px(28));
    auto* first = new QVBoxLayout;
    first->setSpacing(look.px(2));
    first->addWidget(windowAndMains());
    first->addStretch();
    auto* second = new QVBoxLayout;
    second->addWidget(presets());
    second->addWidget(batteryForm());
    second->addStretch();
    columns->addLayout(first, 1);
    columns->addLayout(second, 1);
    auto* stack = new QStackedWidget;
    stack->addWidget(scrolling(lower));
    stack->addWidget(scrolling(new SurveyTab(session, look)));
    auto* head = new QHBoxLayout;
    addTabs(*head, {tr("What it wants"), tr("Measure the load")}, [stack, ruler](int at) {
        stack->setCurrentIndex(at);
        ruler->setVisible(at == 0);
    });
    layout->insertLayout(1, head);
    layout->insertWidget(2, nextLine());
    layout->addWidget(stack, 1);
    outer->addWidget(askFirst(form));
}

/// An empty job asks what is to be done before it shows its form.
QWidget* NeedPage::askFirst(QWidget* form)
{
    auto* aim = new AimPanel(m_session, m_look);
    auto* pages = new QStackedWidget;
    pages->addWidget(form);
    pages->addWidget(scrolling(aim));
    const auto answered = [this] {
        const Need& need = m_session.job().need;
        return need.aim || need.target || need.current_a || !need.measured.empty();
    };
    pages->setCurrentIndex(answered() ? 0 : 1);
    connect(aim, &AimPanel::done, pages, [pages] { pages->setCurrentIndex(0); });
    connect(&m_session, &JobSession::changed, pages, [=] {
        if (answered())
            pages->setCurrentIndex(0);
    });
    return pages;
}

/// What the aim asks for first.
QLabel* NeedPage::nextLine()
{
    auto* line = caption({});
    const auto show = [line, this] {
        const auto& aim = m_session.job().need.aim;
        line->setText(aim ? qs(aimWords(*aim)) + u": "_s + qs(aimNext(*aim)) : QString());
        line->setVisible(aim.has_value());
    };
    connect(&m_session, &JobSession::changed, line, show);
    show();
    return line;
}

QWidget* NeedPage::windowAndMains()
{
    auto* box = new QWidget;
    auto* form = new QFormLayout(box);
    form->setContentsMargins(0, 0, 0, 0);
    form->setVerticalSpacing(m_look.px(0));
    form->addRow(tr("Job"), new TextField(
                                tr("Job"), [](const Job& j) { return j.title; },
                                [](Job& j, std::string t) { j.title = t.empty() ? "New job" : std::move(t); },
                                m_session));
    QStringList aims{tr("not said")};
    for (std::size_t i = 0; i < Words<Aim>::list.size(); ++i)
        aims << qs(aimWords(static_cast<Aim>(i)));
    form->addRow(tr("To do"),
                 new ChoiceField(
                     tr("What is to be done"), aims,
                     [](const Job& j) { return j.need.aim ? static_cast<int>(*j.need.aim) + 1 : 0; },
                     [](Job& j, int at) {
                         j.need.aim = at == 0 ? std::nullopt : std::optional(static_cast<Aim>(at - 1));
                     },
                     m_session));
    form->addRow(tr("Load"),
                 new TextField(
                     tr("Load"), [](const Job& j) { return j.need.load.name; },
                     [](Job& j, std::string t) { j.need.load.name = t.empty() ? "load" : std::move(t); },
                     m_session));
    form->addRow(tr("It is"),
                 new ChoiceField(
                     tr("Kind of load"), {tr("equipment"), tr("a battery, a source")},
                     [](const Job& j) { return static_cast<int>(j.need.load.kind); },
                     [](Job& j, int at) { j.need.load.kind = static_cast<LoadKind>(at); }, m_session));
    addValueRow(*form, targetSpec(tr("Voltage"), &Target::v), m_session);
    addValueRow(*form, targetSpec(tr("at least"), &Target::min_v), m_session);
    addValueRow(*form, targetSpec(tr("at most"), &Target::max_v), m_session);
    auto* current = new QHBoxLayout;
    current->setSpacing(m_look.px(6));
    current->addWidget(new ValueField({.label = tr("Current"),
                                       .quantity = Quantity::Current,
                                       .get = [](const Job& j) { return j.need.current_a; },
                                       .set = [](Job& j, std::optional<double> v) { j.need.current_a = v; },
                                       .hint = tr("2A")},
                                      m_session),
                       1);
    current->addWidget(new QLabel(tr("at the least")));
    current->addWidget(new ValueField({.label = tr("Current at the least"),
                                       .quantity = Quantity::Current,
                                       .get = [](const Job& j) { return j.need.least_a; },
                                       .set = [](Job& j, std::optional<double> v) { j.need.least_a = v; },
                                       .zeroAllowed = true,
                                       .hint = tr("50mA")},
                                      m_session),
                       1);
    form->addRow(tr("Current"), current);
    form->addRow(tr("It draws"),
                 new ChoiceField(
                     tr("What the load draws when its voltage changes"),
                     {tr("the same current"), tr("the same power"), tr("as a resistance")},
                     [](const Job& j) { return static_cast<int>(j.need.draws); },
                     [](Job& j, int at) { j.need.draws = static_cast<LoadDraw>(at); }, m_session));
    addValueRow(*form,
                {.label = tr("Ripple, p-p"),
                 .quantity = Quantity::Voltage,
                 .get = [](const Job& j) { return j.need.ripple_max_v; },
                 .set = [](Job& j, std::optional<double> v) { j.need.ripple_max_v = v; },
                 .hint = tr("120mV")},
                m_session);
    addMains(form);
    return box;
}

void NeedPage::addMains(QFormLayout* form)
{
    addValueRow(*form,
                {.label = tr("Mains"),
                 .quantity = Quantity::Voltage,
                 .get =
                     [](const Job& j) {
                         return j.need.mains.v_assumed ? std::nullopt : std::optional(j.need.mains.v_v);
                     },
                 .set =
                     [](Job& j, std::optional<double> v) {
                         j.need.mains.v_v = v.value_or(Mains{}.v_v);
                         j.need.mains.v_assumed = !v;
                     },
                 .hint = tr("230V")},
                m_session);
    addValueRow(*form,
                {.label = tr("Spread ±"),
                 .quantity = Quantity::Voltage,
                 .get =
                     [](const Job& j) {
                         return j.need.mains.spread_assumed ? std::nullopt
                                                            : std::optional(j.need.mains.spread);
                     },
                 .set =
                     [](Job& j, std::optional<double> v) {
                         j.need.mains.spread = v.value_or(Mains{}.spread);
                         j.need.mains.spread_assumed = !v;
                     },
                 .zeroAllowed = true,
                 .most = 0.99,
                 .percent = true,
                 .hint = tr("10 %")},
                m_session);
    addValueRow(*form,
                {.label = tr("Frequency"),
                 .quantity = Quantity::Frequency,
                 .get = [](const Job& j) { return std::optional(j.need.mains.f_hz); },
                 .set = [](Job& j, std::optional<double> v) { j.need.mains.f_hz = v.value_or(50); },
                 .least = 9.99,
                 .most = 1000},
                m_session);
}

QWidget* NeedPage::batteryRow()
{
    auto* box = new QWidget;
    auto* row = new QHBoxLayout(box);
    row->setContentsMargins(0, 0, 0, 0);
    auto* cells = new QLineEdit(u"12"_s);
    auto* temperature = new QLineEdit(u"16 °C"_s);
    cells->setAccessibleName(tr("Cells"));
    temperature->setAccessibleName(tr("Battery temperature"));
    cells->setObjectName(u"presetCells"_s);
    temperature->setObjectName(u"presetTemperature"_s);
    sizedWith(*box, m_look, [=, this] {
        cells->setMaximumWidth(m_look.px(60));
        temperature->setMaximumWidth(m_look.px(90));
    });
    auto* button = new QPushButton(tr("Float charge"));
    button->setObjectName(u"presetFloat"_s);
    auto* problem = new QLabel;
    problem->setProperty("role", u"problem"_s);
    row->addWidget(button);
    row->addWidget(cells);
    row->addWidget(new QLabel(tr("cells at")));
    row->addWidget(temperature);
    row->addWidget(problem, 1);
    connect(button, &QPushButton::clicked, this, [=, this] {
        bool whole = false;
        const int count = cells->text().trimmed().toInt(&whole);
        const auto kelvin = parseValue(temperature->text().toStdString(), Quantity::Temperature);
        constexpr int mostCells = 300;
        problem->setText(!whole || count < 1 || count > mostCells ? tr("1 to 300 cells")
                         : !kelvin                                ? qs(kelvin.problem().message)
                                                                  : QString());
        if (!problem->text().isEmpty())
            return;
        take(m_session, tr("float charge preset"), floatChargePreset(count, kelvin->value));
    });
    return box;
}

QWidget* NeedPage::equipmentRow()
{
    auto* box = new QWidget;
    auto* row = new QHBoxLayout(box);
    row->setContentsMargins(0, 0, 0, 0);
    auto* volts = new QLineEdit(u"24 V"_s);
    auto* tolerance = new QLineEdit(u"5 %"_s);
    volts->setAccessibleName(tr("Named voltage"));
    tolerance->setAccessibleName(tr("Named tolerance"));
    sizedWith(*box, m_look, [=, this] {
        volts->setMaximumWidth(m_look.px(80));
        tolerance->setMaximumWidth(m_look.px(70));
    });
    auto* button = new QPushButton(tr("As its plate says"));
    auto* problem = new QLabel;
    problem->setProperty("role", u"problem"_s);
    row->addWidget(button);
    row->addWidget(volts);
    row->addWidget(new QLabel(u"±"_s));
    row->addWidget(tolerance);
    row->addWidget(problem, 1);
    connect(button, &QPushButton::clicked, this, [=, this] {
        const auto v = parseValue(volts->text().toStdString(), Quantity::Voltage);
        QString share = tolerance->text().trimmed();
        share.remove(u'%');
        bool number = false;
        const double percent = share.trimmed().toDouble(&number);
        problem->setText(!v || v->value <= 0                         ? tr("which voltage?")
                         : !number || percent <= 0 || percent >= 100 ? tr("which tolerance?")
                                                                     : QString());
        if (!problem->text().isEmpty())
            return;
        take(m_session, tr("equipment preset"), equipmentPreset(v->value, percent / 100));
    });
    return box;
}

QWidget* NeedPage::benchRow()
{
    auto* box = new QWidget;
    auto* row = new QHBoxLayout(box);
    row->setContentsMargins(0, 0, 0, 0);
    for (double v : {5.0, 9.0, 12.0, 13.8, 15.0, 24.0, 48.0}) {
        auto* button = new QPushButton(qs(significant(v, 3)) + u" V"_s);
        button->setStyleSheet(u"padding: 4px 6px;"_s);
        connect(button, &QPushButton::clicked, this,
                [this, v] { take(m_session, tr("bench voltage preset"), benchPreset(v)); });
        row->addWidget(button);
    }
    row->addStretch();
    return box;
}

QWidget* NeedPage::presets()
{
    auto* box = new QWidget;
    auto* layout = new QVBoxLayout(box);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(m_look.px(4));
    layout->addWidget(batteryRow());
    layout->addWidget(equipmentRow());
    layout->addWidget(benchRow());
    auto* why = caption({});
    layout->addWidget(why);
    const auto show = [why, this] {
        const std::string& text = m_session.job().need.why;
        why->setText(text.empty() ? tr("A preset fills the window and says why.")
                                  : tr("Why: %1").arg(qs(text)));
    };
    connect(&m_session, &JobSession::changed, why, show);
    show();
    return box;
}

QWidget* NeedPage::batteryForm()
{
    auto* box = new QWidget;
    auto* form = new QFormLayout(box);
    form->setContentsMargins(0, m_look.px(4), 0, 0);
    form->setVerticalSpacing(m_look.px(0));
    std::vector<QWidget*> onlyBattery;
    const auto battery = [&](const QString& label, Quantity quantity, std::optional<double> Battery::*part,
                             const QString& hint, bool ah = false) {
        auto* field =
            new ValueField({.label = label,
                            .quantity = quantity,
                            .get = [part](const Job& j) { return j.need.load.battery.*part; },
                            .set = [part](Job& j, std::optional<double> v) { j.need.load.battery.*part = v; },
                            .ampereHours = ah,
                            .hint = hint},
                           m_session);
        form->addRow(label, field);
        onlyBattery.push_back(field);
    };
    battery(tr("Capacity"), Quantity::Current, &Battery::capacity_c, tr("24 Ah"), true);
    battery(tr("Charging limit"), Quantity::Current, &Battery::i_charge_max_a, tr("5A"));
    battery(tr("Flat voltage"), Quantity::Voltage, &Battery::v_flat_v, tr("21V"));
    battery(tr("Resistance"), Quantity::Resistance, &Battery::r_ohm, tr("0R15"));
    battery(tr("Battery fuse"), Quantity::Current, &Battery::fuse_a, tr("5A"));
    form->addRow(tr("Leave alone"),
                 new TextField(
                     tr("Leave alone"), [](const Job& j) { return j.need.must_not_change; },
                     [](Job& j, std::string t) { j.need.must_not_change = std::move(t); }, m_session));
    const auto show = [=, this] {
        const bool isBattery = m_session.job().need.load.kind == LoadKind::Battery;
        for (QWidget* field : onlyBattery) {
            field->setVisible(isBattery);
            form->labelForField(field)->setVisible(isBattery);
        }
    };
    connect(&m_session, &JobSession::changed, box, show);
    show();
    return box;
}

} // namespace offshoot::ui
