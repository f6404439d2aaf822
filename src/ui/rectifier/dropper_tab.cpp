#include "ui/rectifier/dropper_tab.h"

#include "core/values/format.h"
#include "ui/fields/option_list.h"
#include "ui/paint/figures.h"
#include "ui/paint/marks.h"
#include "ui/plan/workspace_page.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPainter>
#include <QPushButton>
#include <QVBoxLayout>

namespace offshoot::ui {

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

} // namespace offshoot::ui
