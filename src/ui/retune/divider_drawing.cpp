#include "ui/retune/divider_drawing.h"

#include "core/evaluate/evaluation.h"
#include "core/kinds/divider/divider_wiring.h"
#include "core/kinds/divider/temporary_trimmer.h"
#include "core/supply/connections.h"
#include "core/values/format.h"
#include "ui/paint/marks.h"
#include "ui/paint/wiring.h"
#include "ui/refresh.h"

#include <tuple>

namespace offshoot::ui {

using namespace Qt::StringLiterals;

QString methodPhrase(DividerMethod method)
{
    switch (method) {
    case DividerMethod::ReplaceBottom:
        return DividerDrawing::tr("for bottom");
    case DividerMethod::ReplaceTop:
        return DividerDrawing::tr("for top");
    case DividerMethod::ParallelBottom:
        return DividerDrawing::tr("across bottom");
    case DividerMethod::ParallelTop:
        return DividerDrawing::tr("across top");
    case DividerMethod::SeriesBottom:
        return DividerDrawing::tr("in series, bottom");
    case DividerMethod::SeriesTop:
        return DividerDrawing::tr("in series, top");
    }
    return {};
}

QStringList methodPhrases()
{
    QStringList phrases;
    for (std::size_t i = 0; i < method_count; ++i)
        phrases << methodPhrase(static_cast<DividerMethod>(i));
    return phrases;
}

QString outcomePhrase(const FaultResult& fault)
{
    switch (fault.outcome.value_or(fault.runaway ? Outcome::Runaway : Outcome::InWindow)) {
    case Outcome::Low:
        return DividerDrawing::tr("low");
    case Outcome::InWindow:
        return DividerDrawing::tr("in window");
    case Outcome::High:
        return DividerDrawing::tr("high");
    case Outcome::Runaway:
        return DividerDrawing::tr("runs away");
    }
    return {};
}

DividerDrawing::DividerDrawing(JobSession& session, Look& look, Shows shows, QWidget* parent)
    : QWidget(parent)
    , m_session(session)
    , m_look(look)
    , m_shows(shows)
{
    setAccessibleName(tr("The feedback divider"));
    repaintWhenOther(*this, session, [&session] {
        const Evaluation& e = session.evaluation();
        const Job& job = session.job();
        return std::tuple(e.divider, e.found_v, e.planned, e.planned_legs,
                          e.trimmer ? std::optional(std::pair(e.trimmer->preset_ohm, e.trimmer->preset_v))
                                    : std::nullopt,
                          job.plan.route, job.plan.trimmer, job.found.rails.front().feedback,
                          isAdjustableRegulator(job.found));
    });
    connect(&look, &Look::changed, this, qOverload<>(&QWidget::update));
}

QSize DividerDrawing::sizeHint() const
{
    const bool faults = m_shows == Shows::PlanAndFaults;
    return {m_look.px(280), m_look.px(faults ? 400 : 240)};
}

QSize DividerDrawing::minimumSizeHint() const { return {m_look.px(220), m_look.px(200)}; }

void DividerDrawing::paintFaults(QPainter& painter, double y) const
{
    const Colours& c = m_look.colours();
    const Evaluation& e = m_session.evaluation();
    const double left = m_look.px(4);
    const double wide = width() - left;
    const auto line = [&](const QString& text, const QFont& font, const QColor& colour, double h) {
        paintText(painter, QRectF(left, y, wide, m_look.px(h)), text, font, colour);
        y += m_look.px(h);
    };
    if (!e.planned) {
        line(e.divider ? tr("Choose a part at the right.") : tr("Enter the divider in Found."), m_look.text(),
             c.softInk, 22);
        return;
    }
    const DividerOption& o = e.planned->option;
    const auto fault = [&](const QString& what, const FaultResult& f) {
        line(what, m_look.font(13), c.softInk, 18);
        const bool bad = f.outcome == Outcome::High || f.runaway;
        line(f.v ? u"%1 · %2"_s.arg(qs(formatVolts(*f.v)), outcomePhrase(f)) : tr("no regulation: runs away"),
             m_look.textBold(), bad ? c.breaks : c.fits, 24);
    };
    fault(tr("If the added joint opens"), o.if_open);
    fault(tr("If the added part shorts"), o.if_short);
    const Reference& r = e.divider->reference;
    const Legs& legs = *e.planned_legs;
    line(u"%1 = %2 × (1 + %3 / %4)"_s.arg(qs(formatVolts(dividerVoltage(r.v_ref_v, r.i_ref_a, legs))),
                                          qs(significant(r.v_ref_v, 4) + " V"), qs(formatOhms(legs.top_ohm)),
                                          qs(formatOhms(legs.bottom_ohm))),
         m_look.font(13), c.softInk, 18);
    line(u"   + %1 × %2"_s.arg(qs(formatValue(r.i_ref_a, Quantity::Current)), qs(formatOhms(legs.top_ohm))),
         m_look.font(13), c.softInk, 18);
    if (o.has_before)
        line(tr("with the before-reading: %1").arg(qs(formatVolts(o.v))), m_look.font(13), c.softInk, 20);
    line(tr("divider current %1, part at %2")
             .arg(qs(formatValue(o.divider_a, Quantity::Current)),
                  qs(formatValue(o.power_w_max, Quantity::Power, 2))),
         m_look.font(13), c.softInk, 18);
}

void DividerDrawing::paintEvent(QPaintEvent* /*event*/)
{
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    const Evaluation& e = m_session.evaluation();
    const Job& job = m_session.job();
    const bool trimmed =
        m_shows != Shows::Found && job.plan.route == Route::TemporaryTrimmer && e.trimmer.has_value();
    const bool faults = m_shows == Shows::PlanAndFaults && !trimmed; // the trimmer's are told beside it
    const double drawing = faults    ? height() - m_look.px(178)
                           : trimmed ? std::min<double>(height() - m_look.px(10), m_look.px(340))
                                     : height() - m_look.px(10);
    constexpr double leastDrawing = 120;
    if (drawing < m_look.px(leastDrawing)) {
        // Too little room for parts that could be told apart: the words alone.
        if (faults)
            paintFaults(painter, 0);
        return;
    }
    std::optional<AddedToDivider> added;
    auto v = e.found_v;
    if (trimmed) {
        added = presetTrimmer(job.plan.trimmer, e.trimmer->preset_ohm);
        v = e.trimmer->preset_v;
    } else if (m_shows != Shows::Found && e.planned) {
        v = e.planned->option.v;
        std::vector<double> tolerances;
        for (const StockItem& part : e.planned->option.parts)
            tolerances.push_back(part.tolerance);
        added = AddedToDivider{e.planned->option.method, e.planned->option.network, std::move(tolerances)};
    }
    const Feedback& feedback = job.found.rails.front().feedback;
    const Connections wiring = dividerConnections(feedback, added, isAdjustableRegulator(job.found));
    NodeWords words;
    words["output"] = (trimmed ? tr("output %1 as preset") : tr("output %1"))
                          .arg(v         ? qs(formatVolts(*v))
                               : trimmed ? tr("runs away")
                                         : tr("unknown"));
    if (feedback.reference)
        words["reference"] = tr("reference %1").arg(qs(significant(feedback.reference->v_ref_v, 4) + " V"));
    if (wiring.parts.empty())
        paintSentence(painter, QRect(0, 0, width(), static_cast<int>(drawing)),
                      tr("Enter the divider's legs."), m_look);
    else
        paintWiring(painter, QRectF(0, 0, width(), drawing), wiring, m_look, words);
    if (faults)
        paintFaults(painter, drawing + m_look.px(8));
}

} // namespace offshoot::ui
