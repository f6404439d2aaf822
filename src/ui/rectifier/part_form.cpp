#include "ui/rectifier/part_form.h"

#include "ui/fields/tab_order.h"
#include "ui/fields/value_field.h"
#include "ui/rectifier/chain_pictures.h"
#include "ui/rectifier/ribbon_picture.h"

#include <QApplication>
#include <QComboBox>
#include <QFormLayout>
#include <QVBoxLayout>
#include <algorithm>

namespace offshoot::ui {

using namespace Qt::StringLiterals;

namespace {

/// In the order of LoadDraw.
QStringList drawNames()
{
    return {PartForm::tr("a current"), PartForm::tr("a power"), PartForm::tr("a resistance")};
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

QString problemOf(const RectifierChain& chain)
{
    try {
        readJson<RectifierChain>(writeJson(chain, NullPolicy::Omit), UnknownKeys::Keep);
    } catch (const DocumentError& error) {
        return QString::fromUtf8(error.what());
    }
    return {};
}

PartForm::PartForm(JobSession& session, Look& look, ChainEdit edit)
    : m_session(session)
    , m_look(look)
    , m_edit(std::move(edit))
{
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
}

void PartForm::show(int part, const ChainRun* run)
{
    m_run = run;
    const RectifierChain* chain = plannedChain(m_session.job());
    const std::string shape = chain != nullptr ? shapeOf(*chain) : "";
    if (m_form != nullptr && part == m_part && shape == m_shape)
        return;
    m_part = part;
    m_shape = shape;
    QString focused;         // the keyboard stays where it was
    if (m_form != nullptr) { // one of its boxes may be the sender
        if (m_form->parentWidget()->isAncestorOf(QApplication::focusWidget()))
            focused = QApplication::focusWidget()->accessibleName();
        m_form->parentWidget()->hide();
        m_form->parentWidget()->deleteLater();
    }
    auto* fields = new QWidget;
    layout()->addWidget(fields);
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
    tabBehind(*this, *fields);
    for (QWidget* field : fields->findChildren<QWidget*>())
        if (!focused.isEmpty() && field->accessibleName() == focused)
            field->setFocus();
}

void PartForm::addField(const ChainField& field)
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

void PartForm::addChoice(const QString& label, const QStringList& words, int current,
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
        if (!m_edit(label, [set, at](RectifierChain& chain) { set(chain, at); }))
            combo->setCurrentIndex(current);
    });
}

void PartForm::sourceFields(const RectifierChain& /*chain*/)
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

void PartForm::rectifierFields(const RectifierChain& chain)
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

void PartForm::capacitorFields(const QString& which, const SectionAt& at)
{
    const auto label = [&which](const QString& text) { return which.isEmpty() ? text : which + u' ' + text; };
    sectionField(which.isEmpty() ? tr("Capacitor") : label(tr("C")), Quantity::Capacitance, at,
                 &SmoothingSection::c_f, tr("8u"), false);
    sectionField(label(which.isEmpty() ? tr("Its ESR") : tr("ESR")), Quantity::Resistance, at,
                 &SmoothingSection::esr_ohm, tr("2R"), true);
    const auto rating = [&](const QString& text, Quantity quantity,
                            std::optional<double> SmoothingSection::*member,
                            const QString& hint) { readField(label(text), quantity, at, member, hint); };
    rating(which.isEmpty() ? tr("Rated") : tr("rated"), Quantity::Voltage, &SmoothingSection::v_rated_v,
           tr("450V"));
    rating(which.isEmpty() ? tr("Tolerance ±") : tr("tolerance ±"), Quantity::Voltage,
           &SmoothingSection::tolerance, tr("20 %"));
    rating(which.isEmpty() ? tr("Ripple current") : tr("ripple"), Quantity::Current,
           &SmoothingSection::i_ripple_a, tr("120mA"));
}

void PartForm::readField(const QString& label, Quantity quantity, const SectionAt& at,
                         std::optional<double> SmoothingSection::*member, const QString& hint)
{
    const bool share = member == &SmoothingSection::tolerance;
    addField({label, quantity,
              [at, member](const RectifierChain& c) {
                  const SmoothingSection* section = at(const_cast<RectifierChain&>(c));
                  return section != nullptr ? section->*member : std::nullopt;
              },
              [at, member](RectifierChain& c, std::optional<double> v) {
                  if (SmoothingSection* section = at(c))
                      section->*member = v;
              },
              hint, share, share});
}

void PartForm::sectionField(const QString& label, Quantity quantity, const SectionAt& at,
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
void PartForm::tapFields(const RectifierChain& chain, std::size_t section)
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
                                                 chainVolts(c, m_run, std::to_string(section)));
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

void PartForm::sectionFields(const RectifierChain& chain, std::size_t section)
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
        readField(tr("It bears"), Quantity::Current, at, &SmoothingSection::i_rated_a, tr("100mA"));
        readField(tr("Tolerance ±"), Quantity::Voltage, at, &SmoothingSection::tolerance, tr("20 %"));
        break;
    case SmoothingKind::R:
        sectionField(tr("Resistor"), Quantity::Resistance, at, &SmoothingSection::r_ohm, tr("1k"), false);
        readField(tr("It bears"), Quantity::Power, at, &SmoothingSection::power_rated_w, tr("5W"));
        break;
    }
}

void PartForm::loadFields(const RectifierChain& chain)
{
    const LoadDraw draw = drawOf(chain.load);
    addChoice(tr("Load is"), drawNames(), static_cast<int>(draw), [this](RectifierChain& c, int at) {
        c.load = loadAs(static_cast<LoadDraw>(at), c.load, chainVolts(c, m_run, {}));
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

} // namespace offshoot::ui
