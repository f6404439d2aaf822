#include "ui/rectifier/rectifier_page.h"

#include "core/values/format.h"
#include "ui/fields/flow_row.h"
#include "ui/fields/option_list.h"
#include "ui/fields/tabs.h"
#include "ui/fields/value_field.h"
#include "ui/frame/consequences_panel.h"
#include "ui/paint/figures.h"
#include "ui/plan/wiring_tab.h"

#include <QApplication>
#include <QComboBox>
#include <QFormLayout>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QScrollArea>
#include <QStackedWidget>
#include <QVBoxLayout>
#include <algorithm>

namespace offshoot::ui {

using namespace Qt::StringLiterals;

namespace {

/// In the order of LoadDraw.
QStringList drawNames()
{
    return {RectifierPage::tr("a current"), RectifierPage::tr("a power"), RectifierPage::tr("a resistance")};
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
    for (const TapLoad& tap : chain.tap_loads)
        shape += std::to_string(tap.section) + std::string(word(drawOf(tap.load)));
    return shape + std::string(word(drawOf(chain.load)));
}

} // namespace

RectifierPage::RectifierPage(JobSession& session, Look& look, QWidget* parent)
    : WorkspacePage(session, look, parent)
    , m_ribbon(new RibbonPicture(look))
    , m_waves(new WavePicture(look))
    , m_fields(new QVBoxLayout)
    , m_form(nullptr)
    , m_problem(new QLabel)
    , m_stop(new QPushButton(tr("Stop")))
    , m_bars(new LimitBars(look))
    , m_figures(richText())
    , m_dropper(new DropperTab(session, look))
{
    body().addWidget(pictureSide(), 2);
    auto* right = new QWidget;
    auto* column = new QVBoxLayout(right);
    column->setContentsMargins(0, 0, 0, 0);
    auto* stack = new QStackedWidget;
    auto* head = new QHBoxLayout;
    addTabs(*head, {tr("Part"), tr("In time"), tr("Figures"), tr("Dropper"), tr("Wiring")},
            [stack](int index) { stack->setCurrentIndex(index); });
    head->addStretch();
    column->addLayout(head);
    stack->addWidget(partTab());
    stack->addWidget(m_waves);
    stack->addWidget(figuresTab());
    stack->addWidget(m_dropper);
    stack->addWidget(new WiringTab("chain", m_session, m_look));
    column->addWidget(stack, 1);
    body().addWidget(right, 1);
    offer(m_dropper->options(), tr("dropping resistor"),
          [this](Job& job, int row) { m_dropper->apply(job, row); });
    followRibbon();
    connect(m_stop, &QPushButton::clicked, &session, &JobSession::stopSimulation);
    connect(&session, &JobSession::simulated, this, [this](double share) {
        m_share = share;
        showRibbon();
    });
    connect(&m_runBefore, &RectifierRun::done, this, [this](const ChainRun& run) {
        m_before = run.result;
        refresh();
    });
    connect(&m_runSpread, &RectifierRun::spread, this, [this](const ChainSpread& spread) {
        m_spread = spread;
        m_spreadFor = m_spreadOf; // of outdated runs nothing comes in
        showRibbon();
    });
    RectifierPage::follow();
}

QWidget* RectifierPage::pictureSide()
{
    auto* side = new QWidget;
    auto* column = new QVBoxLayout(side);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(m_look.px(3));
    m_problem->setProperty("role", u"problem"_s);
    m_problem->setWordWrap(true);
    m_problem->hide();
    column->addWidget(m_ribbon, 1);
    column->addWidget(m_problem);
    return side;
}

void RectifierPage::choose(int part)
{
    m_ribbon->choose(part);
    m_problem->hide(); // what was refused was elsewhere
    rebuildFields();
    m_dropper->follow(chosenSection());
    showWaves();
}

void RectifierPage::followRibbon()
{
    connect(m_ribbon, &RibbonPicture::chose, this, &RectifierPage::choose);
    connect(m_ribbon, &RibbonPicture::putIn, this, [this](int section, SmoothingKind kind) {
        if (edit(tr("put a part in"), [section, kind](RectifierChain& chain) {
                chain.insertSection(static_cast<std::size_t>(section), usualSection(kind));
            }))
            choose(section + firstSection);
    });
    connect(m_ribbon, &RibbonPicture::takenOut, this, [this](int section) {
        edit(tr("take a part out"),
             [section](RectifierChain& chain) { chain.eraseSection(static_cast<std::size_t>(section)); });
    });
    connect(m_ribbon, &RibbonPicture::moved, this, [this](int from, int to) {
        if (edit(tr("move a part"), [from, to](RectifierChain& chain) {
                moveSection(chain, static_cast<std::size_t>(from), static_cast<std::size_t>(to));
            }))
            choose((to > from ? to - 1 : to) + firstSection);
    });
    connect(m_ribbon, &RibbonPicture::stepped, this, [this](int section, bool up) {
        edit(tr("another value"), [section, up](RectifierChain& chain) {
            SmoothingSection& s = chain.filter[static_cast<std::size_t>(section)];
            constexpr double next = 1.1; // E24 is about that far apart
            s = scaledSection(s, up ? next : 1 / next);
        });
    });
    connect(m_ribbon, &RibbonPicture::scaled, this, [this](int section, double share, bool done) {
        const RectifierChain* planned = plannedChain(m_session.edited());
        if (planned == nullptr)
            return;
        RectifierChain chain = *planned;
        SmoothingSection& s = chain.filter[static_cast<std::size_t>(section)];
        s = scaledSection(s, share);
        const auto put = [&chain](Job& job) { job.plan.chain = chain; };
        if (!done)
            return m_session.preview(put);
        m_session.clearPreview();
        m_session.edit(tr("another value"), put);
    });
}

std::optional<std::size_t> RectifierPage::chosenSection() const
{
    const RectifierChain* chain = plannedChain(m_session.job());
    const int at = m_ribbon->chosen() - firstSection;
    const bool is = chain != nullptr && at >= 0 && at < static_cast<int>(chain->filter.size());
    return is ? std::optional(static_cast<std::size_t>(at)) : std::nullopt;
}

QWidget* RectifierPage::partTab()
{
    auto* box = new QWidget;
    auto* column = new QVBoxLayout(box);
    column->setContentsMargins(0, 0, 0, 0);
    auto* inside = new QWidget;
    auto* insideLayout = new QVBoxLayout(inside);
    insideLayout->setContentsMargins(0, 0, m_look.px(4), 0);
    insideLayout->addLayout(m_fields);
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
    const auto button = [this](QLayout& row, const QString& text, const std::function<void()>& pressed) {
        auto* made = new QPushButton(text);
        row.addWidget(made);
        connect(made, &QPushButton::clicked, this, pressed);
    };
    // Before there is a chain one is begun; afterwards it is said which way it stands.
    const auto row = [this, column] {
        auto* box = new QWidget(this);
        auto* layout = new FlowRow(box, m_look.px(3));
        column->addWidget(box);
        return layout;
    };
    auto* start = row();
    for (const SimRectifier kind : {SimRectifier::Bridge, SimRectifier::FullWaveCt, SimRectifier::Doubler})
        button(*start, tr("New %1").arg(rectifierNames().at(static_cast<int>(kind)).section(u',', 0, 0)),
               [this, kind] { startChain(kind); });
    auto* state = row();
    state->addWidget(m_stop);
    button(*state, tr("It stands so now"), [this] {
        m_session.edit(tr("chain as found"), [](Job& job) {
            if (!job.plan.chain)
                return;
            job.found.mains_side.chain = std::move(job.plan.chain);
            job.plan.chain.reset();
        });
    });
    button(*state, tr("Back to as found"),
           [this] { m_session.edit(tr("back to as found"), [](Job& job) { job.plan.chain.reset(); }); });
    const auto show = [this, start, state] {
        const bool any = plannedChain(m_session.job()) != nullptr;
        start->parentWidget()->setVisible(!any);
        state->parentWidget()->setVisible(any);
    };
    connect(&m_session, &JobSession::changed, state, show);
    show();
    return column;
}

void RectifierPage::startChain(SimRectifier kind)
{
    m_session.edit(tr("new chain"), [kind](Job& job) { job.plan.chain = usualChain(kind, job); });
}

bool RectifierPage::edit(const QString& what, const std::function<void(RectifierChain&)>& change)
{
    const RectifierChain* planned = plannedChain(m_session.job());
    if (planned == nullptr)
        return false;
    RectifierChain chain = *planned;
    change(chain);
    m_problem->setText(problemOf(chain));
    m_problem->setVisible(!m_problem->text().isEmpty());
    if (!m_problem->text().isEmpty())
        return false;
    m_session.edit(what, [&chain](Job& job) { job.plan.chain = chain; });
    return true;
}

void RectifierPage::addField(const ChainField& field)
{
    ValueSpec spec{.label = field.label,
                   .quantity = field.quantity,
                   .get =
                       [get = field.get](const Job& job) {
                           const RectifierChain* chain = plannedChain(job);
                           return chain != nullptr ? get(*chain) : std::nullopt;
                       },
                   .set =
                       [set = field.set](Job& job, std::optional<double> v) {
                           const RectifierChain* chain = plannedChain(job);
                           if (chain == nullptr)
                               return;
                           RectifierChain changed = *chain;
                           set(changed, v);
                           job.plan.chain = changed;
                       },
                   .zeroAllowed = field.zero,
                   .percent = field.percent,
                   .hint = field.hint,
                   .wrong = [](const Job& job) { return problemOf(*plannedChain(job)); }};
    addValueRow(*m_form, std::move(spec), m_session);
}

void RectifierPage::addChoice(const QString& label, const QStringList& words, int current,
                              const std::function<void(RectifierChain&, int)>& set)
{
    auto* combo = new QComboBox;
    combo->addItems(words);
    constexpr int enough = 9; // the list shows them whole
    combo->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
    combo->setMinimumContentsLength(enough);
    combo->setCurrentIndex(current);
    combo->setAccessibleName(label);
    m_form->addRow(label, combo);
    connect(combo, &QComboBox::activated, this, [this, combo, label, current, set](int at) {
        if (!edit(label, [set, at](RectifierChain& chain) { set(chain, at); }))
            combo->setCurrentIndex(current);
    });
}

void RectifierPage::sourceFields(const RectifierChain& /*chain*/)
{
    addField(
        {tr("Secondary"), Quantity::Voltage,
         [](const RectifierChain& c) { return std::optional(c.source.v_rms_v); },
         [](RectifierChain& c, std::optional<double> v) { c.source.v_rms_v = v.value_or(c.source.v_rms_v); },
         tr("290V")});
    addField({tr("Its resistance"), Quantity::Resistance,
              [](const RectifierChain& c) { return std::optional(c.source.r_ohm); },
              [](RectifierChain& c, std::optional<double> v) { c.source.r_ohm = v.value_or(c.source.r_ohm); },
              tr("160R")});
    addField({tr("Its leakage"), Quantity::Inductance, [](const RectifierChain& c) { return c.source.l_h; },
              [](RectifierChain& c, std::optional<double> v) { c.source.l_h = v; }, tr("1mH")});
    addField({tr("Frequency"), Quantity::Frequency,
              [](const RectifierChain& c) { return std::optional(c.source.f_hz); },
              [](RectifierChain& c, std::optional<double> v) { c.source.f_hz = v.value_or(c.source.f_hz); },
              tr("50Hz")});
    addField(
        {tr("Mains ±"), Quantity::Voltage,
         [](const RectifierChain& c) { return std::optional(c.source.spread); },
         [](RectifierChain& c, std::optional<double> v) { c.source.spread = v.value_or(c.source.spread); },
         tr("10 %"), true, true});
}

void RectifierPage::rectifierFields(const RectifierChain& chain)
{
    addChoice(tr("Kind"), rectifierNames(), static_cast<int>(chain.rectifier.kind),
              [](RectifierChain& c, int at) { c.setKind(static_cast<SimRectifier>(at)); });
    addChoice(tr("Diodes are"), {tr("a threshold"), tr("junctions"), tr("a valve")},
              static_cast<int>(chain.rectifier.diode.model),
              [](RectifierChain& c, int at) { c.rectifier.diode = usualDiode(static_cast<DiodeModel>(at)); });
    const auto member = [this](const QString& label, Quantity quantity, double SimDiode::*at,
                               const QString& hint) {
        addField({label, quantity,
                  [at](const RectifierChain& c) { return std::optional(c.rectifier.diode.*at); },
                  [at](RectifierChain& c, std::optional<double> v) { c.rectifier.diode.*at = v.value_or(0); },
                  hint, true});
    };
    switch (chain.rectifier.diode.model) {
    case DiodeModel::Threshold:
        member(tr("Threshold"), Quantity::Voltage, &SimDiode::v_f_v, tr("0.8V"));
        member(tr("and ohms"), Quantity::Resistance, &SimDiode::r_ohm, tr("0R03"));
        break;
    case DiodeModel::Exponential:
        member(tr("Saturation"), Quantity::Current, &SimDiode::i_s_a, tr("2nA"));
        member(tr("Ideality"), Quantity::Number, &SimDiode::n, tr("1.7"));
        member(tr("and ohms"), Quantity::Resistance, &SimDiode::r_ohm, tr("0R02"));
        break;
    case DiodeModel::Valve:
        member(tr("Perveance, A/V^1.5"), Quantity::Number, &SimDiode::perveance_a_v15, tr("0.00025"));
        member(tr("Plate resistor"), Quantity::Resistance, &SimDiode::r_plate_ohm, tr("50R"));
        break;
    }
    const auto rating = [this](const QString& label, Quantity quantity,
                               std::optional<double> RectifierRatings::*at, const QString& hint) {
        addValueRow(*m_form,
                    {.label = label,
                     .quantity = quantity,
                     .get = [at](const Job& j) { return j.found.mains_side.ratings.*at; },
                     .set = [at](Job& j, std::optional<double> v) { j.found.mains_side.ratings.*at = v; },
                     .hint = hint},
                    m_session);
    };
    rating(tr("Bears in reverse"), Quantity::Voltage, &RectifierRatings::v_piv_v, tr("1400V"));
    rating(tr("Peak current"), Quantity::Current, &RectifierRatings::i_peak_a, tr("400mA"));
    rating(tr("Peak, hot start"), Quantity::Current, &RectifierRatings::i_hot_a, tr("1A"));
    rating(tr("Mean current"), Quantity::Current, &RectifierRatings::i_mean_a, tr("70mA"));
    rating(tr("Largest first C"), Quantity::Capacitance, &RectifierRatings::c_first_max_f, tr("4u"));
    rating(tr("Least plate ohms"), Quantity::Resistance, &RectifierRatings::r_plate_min_ohm, tr("150R"));
    if (chain.rectifier.kind != SimRectifier::Doubler)
        return;
    capacitorFields(tr("Upper"),
                    [](RectifierChain& c) { return c.rectifier.upper ? &*c.rectifier.upper : nullptr; });
    capacitorFields(tr("Lower"),
                    [](RectifierChain& c) { return c.rectifier.lower ? &*c.rectifier.lower : nullptr; });
}

void RectifierPage::capacitorFields(const QString& which, const SectionAt& at)
{
    const auto label = [&which](const QString& text) { return which.isEmpty() ? text : which + u' ' + text; };
    sectionField(which.isEmpty() ? tr("Capacitor") : label(tr("C")), Quantity::Capacitance, at,
                 &SmoothingSection::c_f, tr("8u"), false);
    sectionField(label(which.isEmpty() ? tr("Its ESR") : tr("ESR")), Quantity::Resistance, at,
                 &SmoothingSection::esr_ohm, tr("2R"), true);
    const auto rating = [&](const QString& text, Quantity quantity,
                            std::optional<double> SmoothingSection::*member,
                            const QString& hint) { bearsField(label(text), quantity, at, member, hint); };
    rating(which.isEmpty() ? tr("Rated") : tr("rated"), Quantity::Voltage, &SmoothingSection::v_rated_v,
           tr("450V"));
    toleranceField(label(which.isEmpty() ? tr("Spread ±") : tr("spread ±")), at);
    rating(which.isEmpty() ? tr("Ripple current") : tr("ripple"), Quantity::Current,
           &SmoothingSection::i_ripple_a, tr("120mA"));
}

/// What capacitance or inductance may be beside its value.
void RectifierPage::toleranceField(const QString& label, const SectionAt& at)
{
    addField({label, Quantity::Voltage,
              [at](const RectifierChain& c) {
                  const SmoothingSection* section = at(const_cast<RectifierChain&>(c));
                  return section != nullptr ? section->tolerance : std::nullopt;
              },
              [at](RectifierChain& c, std::optional<double> v) {
                  if (SmoothingSection* section = at(c))
                      section->tolerance = v;
              },
              tr("20 %"), true, true});
}

/// What a choke or resistor bears.
void RectifierPage::bearsField(const QString& label, Quantity quantity, const SectionAt& at,
                               std::optional<double> SmoothingSection::*member, const QString& hint)
{
    addField({label, quantity,
              [at, member](const RectifierChain& c) {
                  const SmoothingSection* section = at(const_cast<RectifierChain&>(c));
                  return section != nullptr ? section->*member : std::nullopt;
              },
              [at, member](RectifierChain& c, std::optional<double> v) {
                  if (SmoothingSection* section = at(c))
                      section->*member = v;
              },
              hint});
}

void RectifierPage::sectionField(const QString& label, Quantity quantity, const SectionAt& at,
                                 double SmoothingSection::*member, const QString& hint, bool zero)
{
    addField({label, quantity,
              [at, member](const RectifierChain& c) {
                  // The place is named once; reading does not change it.
                  const SmoothingSection* section = at(const_cast<RectifierChain&>(c));
                  return section != nullptr ? std::optional(section->*member) : std::nullopt;
              },
              [at, member](RectifierChain& c, std::optional<double> v) {
                  if (SmoothingSection* section = at(c))
                      section->*member = v.value_or(0);
              },
              hint, zero});
}

/// What is drawn from a capacitor on the way to the load.
void RectifierPage::tapFields(const RectifierChain& chain, std::size_t section)
{
    const auto at = static_cast<std::int64_t>(section);
    const auto tap = std::ranges::find(chain.tap_loads, at, &TapLoad::section);
    const LoadDraw draw = tap != chain.tap_loads.end() ? drawOf(tap->load) : LoadDraw::Current;
    if (tap != chain.tap_loads.end())
        addChoice(tr("Tapped load is"), drawNames(), static_cast<int>(draw),
                  [this, at, section](RectifierChain& c, int choice) {
                      const auto changed = std::ranges::find(c.tap_loads, at, &TapLoad::section);
                      if (changed != c.tap_loads.end())
                          changed->load = loadAs(static_cast<LoadDraw>(choice), changed->load,
                                                 chainVolts(c, shownRun(), std::to_string(section)));
                  });
    const auto field = [this, at](Quantity quantity, std::optional<double> SimLoad::*member,
                                  const QString& hint) {
        addField({.label = tr("Tapped load"),
                  .quantity = quantity,
                  .get = [at, member](const RectifierChain& c) -> std::optional<double> {
                      const auto held = std::ranges::find(c.tap_loads, at, &TapLoad::section);
                      return held != c.tap_loads.end() ? held->load.*member : std::nullopt;
                  },
                  .set =
                      [at, member](RectifierChain& c, std::optional<double> v) {
                          const auto held = std::ranges::find(c.tap_loads, at, &TapLoad::section);
                          if (!v)
                              std::erase_if(c.tap_loads, [at](const TapLoad& t) { return t.section == at; });
                          else if (held != c.tap_loads.end())
                              held->load.*member = v;
                          else
                              c.tap_loads.push_back({.section = at, .load = {.current_a = v}});
                      },
                  .hint = hint});
    };
    switch (draw) {
    case LoadDraw::Current:
        return field(Quantity::Current, &SimLoad::current_a, tr("20mA"));
    case LoadDraw::Power:
        return field(Quantity::Power, &SimLoad::power_w, tr("5W"));
    case LoadDraw::Resistance:
        return field(Quantity::Resistance, &SimLoad::resistance_ohm, tr("10k"));
    }
}

void RectifierPage::sectionFields(const RectifierChain& chain, std::size_t section)
{
    const SectionAt at = [section](RectifierChain& c) {
        return section < c.filter.size() ? &c.filter[section] : nullptr;
    };
    switch (chain.filter[section].kind) {
    case SmoothingKind::C:
        capacitorFields({}, at);
        tapFields(chain, section);
        break;
    case SmoothingKind::L:
        sectionField(tr("Choke"), Quantity::Inductance, at, &SmoothingSection::l_h, tr("10H"), false);
        sectionField(tr("Its wire"), Quantity::Resistance, at, &SmoothingSection::r_ohm, tr("220R"), true);
        bearsField(tr("It bears"), Quantity::Current, at, &SmoothingSection::i_rated_a, tr("100mA"));
        toleranceField(tr("Spread ±"), at);
        break;
    case SmoothingKind::R:
        sectionField(tr("Resistor"), Quantity::Resistance, at, &SmoothingSection::r_ohm, tr("1k"), false);
        bearsField(tr("It bears"), Quantity::Power, at, &SmoothingSection::power_rated_w, tr("5W"));
        break;
    }
}

void RectifierPage::loadFields(const RectifierChain& chain)
{
    const LoadDraw draw = drawOf(chain.load);
    addChoice(tr("Load is"), drawNames(), static_cast<int>(draw), [this](RectifierChain& c, int at) {
        c.load = loadAs(static_cast<LoadDraw>(at), c.load, chainVolts(c, shownRun(), {}));
    });
    const auto field = [this](const QString& label, Quantity quantity, std::optional<double> SimLoad::*member,
                              const QString& hint, bool zero) {
        addField({label, quantity, [member](const RectifierChain& c) { return c.load.*member; },
                  [member](RectifierChain& c, std::optional<double> v) {
                      c.load.*member = v.value_or((c.load.*member).value_or(0));
                  },
                  hint, zero});
    };
    switch (draw) {
    case LoadDraw::Resistance:
        return field(tr("Load"), Quantity::Resistance, &SimLoad::resistance_ohm, tr("4k"), false);
    case LoadDraw::Current:
        field(tr("Load"), Quantity::Current, &SimLoad::current_a, tr("70mA"), true);
        break;
    case LoadDraw::Power:
        field(tr("Load"), Quantity::Power, &SimLoad::power_w, tr("40W"), true);
        break;
    }
    if (draw != LoadDraw::Resistance)
        addField(
            {tr("It gives up below"), Quantity::Voltage,
             [](const RectifierChain& c) { return std::optional(c.load.v_min_v); },
             [](RectifierChain& c, std::optional<double> v) { c.load.v_min_v = v.value_or(c.load.v_min_v); },
             tr("12V")});
}

void RectifierPage::rebuildFields()
{
    const RectifierChain* chain = plannedChain(m_session.job());
    const int part = m_ribbon->chosen();
    const std::string shape = chain != nullptr ? shapeOf(*chain) : "";
    if (m_form != nullptr && part == m_fieldsOf && shape == m_fieldsShape)
        return;
    m_fieldsOf = part;
    m_fieldsShape = shape;
    QString focused;         // the keyboard stays where it was
    if (m_form != nullptr) { // one of its boxes may be the sender
        if (m_form->parentWidget()->isAncestorOf(QApplication::focusWidget()))
            focused = QApplication::focusWidget()->accessibleName();
        m_form->parentWidget()->hide();
        m_form->parentWidget()->deleteLater();
    }
    auto* fields = new QWidget;
    m_fields->addWidget(fields);
    m_form = new QFormLayout(fields);
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
    for (QWidget* field : fields->findChildren<QWidget*>())
        if (!focused.isEmpty() && field->accessibleName() == focused)
            field->setFocus();
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
    compare();
    if (const ChainRun* run = m_session.chainRun())
        m_shown = *run;
    else if (chain == nullptr || !m_session.chainProblem().isEmpty())
        m_shown.reset();
    m_stop->setEnabled(m_session.simulating());
    setSentence(chain == nullptr ? tr("Rectifier and smoothing: start with a chain, as it stands now.")
                : !m_session.chainProblem().isEmpty() ? m_session.chainProblem()
                : m_session.chainRun() != nullptr     ? qs(rectifierSentence(*m_shown))
                                                      : tr("Simulating…"));
    m_share = 0;
    if (m_spreadOf != (chain != nullptr ? std::optional(*chain) : std::nullopt)) {
        m_spreadOf = chain != nullptr ? std::optional(*chain) : std::nullopt;
        m_runSpread.cancel();
        if (chain != nullptr)
            m_runSpread.start(*chain);
    }
    showRibbon();
    rebuildFields();
    m_dropper->follow(chosenSection());
    showWaves();
    auto limits = chainRows(m_session.job(), m_session.chainRun());
    std::erase_if(limits, [](const ConsequenceRow& row) { return row.id == RowId::ChainOutput; });
    countAndSort(limits);
    m_bars->show(std::move(limits));
    m_figures->setText(figuresHtml());
}

/// What came in last stays until what follows comes in, so that a dragged value does not flicker.
void RectifierPage::showRibbon()
{
    const Job& job = m_session.job();
    const RectifierChain* chain = plannedChain(job);
    if (chain == nullptr) {
        m_parts.clear();
        return m_ribbon->show({});
    }
    std::vector<ChainPart> parts = chainPartsOf(job, m_session.chainRun());
    if (m_session.chainRun() == nullptr && m_session.simulating())
        for (ChainPart& part : parts) {
            const auto last = std::ranges::find_if(m_parts, [&part](const ChainPart& before) {
                return before.part == part.part && before.thing == part.thing;
            });
            if (last != m_parts.end()) {
                part.limit = last->limit;
                part.flow = last->flow;
            }
        }
    m_parts = parts;
    RibbonShown shown{.parts = std::move(parts),
                      .unloaded_v = chain->noLoadVolts() / (1 + chain->source.spread),
                      .places = {},
                      .before = m_before ? m_before->places : std::vector<SimFigures>{},
                      .spread = m_spread,
                      .window = job.found.topology == Topology::Unregulated ? unitTarget(job) : std::nullopt,
                      .reading = tr("V, trough to crest; pale: %1").arg(qs(toleranceText(*chain))),
                      .running = m_session.simulating() ? m_share : -1};
    const auto links = static_cast<std::size_t>(std::ranges::count(shown.parts, true, &ChainPart::in_line));
    if (m_shown && m_shown->result.places.size() == links + 1)
        shown.places = m_shown->result.places;
    const bool known = m_spread && m_spread->places.size() == links + 1;
    shown.corners = known ? qs(spreadSentence(*m_spreadFor, *m_spread))
                          : tr("At the ends of the tolerances: working it out…");
    m_ribbon->show(std::move(shown));
}

void RectifierPage::showWaves()
{
    const auto at = static_cast<std::size_t>(m_ribbon->chosen());
    const bool any = m_shown && at < m_parts.size();
    m_waves->show(any ? &m_shown->result : nullptr, m_before ? &*m_before : nullptr,
                  any ? m_parts[at].part : std::string(), any ? qs(m_parts[at].name) : QString());
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
