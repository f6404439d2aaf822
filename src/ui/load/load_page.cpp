#include "ui/load/load_page.h"

#include "core/values/format.h"
#include "ui/fields/option_list.h"
#include "ui/fields/paragraph.h"
#include "ui/fields/tabs.h"
#include "ui/paint/figures.h"
#include "ui/paint/marks.h"

#include <QHBoxLayout>
#include <QMouseEvent>
#include <QStackedWidget>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>

namespace offshoot::ui {

using namespace Qt::StringLiterals;

namespace {

QString celsius(double kelvin) { return qs(formatValue(kelvin, Quantity::Temperature)); }

constexpr double burnsFingersK = 333.15;
constexpr double roomK = 298.15;
constexpr double hottestK = 428.15;
constexpr double joulesPerKilowattHour = 3.6e6;
constexpr double daysPerYear = 365.25;

} // namespace

LoadPicture::LoadPicture(Look& look, QWidget* parent)
    : QWidget(parent)
    , m_look(look)
{
    setAccessibleName(tr("Rail voltage against load current"));
    sizedWith(*this, look, [this, &look] { setMinimumSize(look.px(240), look.px(150)); });
    setMouseTracking(true);
}

/// Where the mouse wants the load to stand; nothing until there are axes to stand on.
std::optional<double> LoadPicture::ampsAt(const QPointF& at) const
{
    if (!m_axes || m_view.options.empty())
        return std::nullopt;
    return std::max(0.0, m_axes->valueAtX(at.x()) - m_view.present_a);
}

void LoadPicture::mousePressEvent(QMouseEvent* event) { mouseMoveEvent(event); }

void LoadPicture::mouseMoveEvent(QMouseEvent* event)
{
    const auto wanted = ampsAt(event->position());
    setCursor(wanted ? Qt::SizeHorCursor : Qt::ArrowCursor);
    if (wanted && (event->buttons() & Qt::LeftButton) != 0)
        Q_EMIT dragged(*wanted);
}

void LoadPicture::mouseReleaseEvent(QMouseEvent* event)
{
    if (const auto wanted = ampsAt(event->position()))
        Q_EMIT dropped(*wanted);
}

void LoadPicture::show(const MinimumLoadView& view, const QString& rail, std::optional<double> dummyA)
{
    m_view = view;
    m_rail = rail;
    m_dummyA = dummyA;
    setAccessibleDescription(qs(view.sentence));
    update();
}

namespace {

/// The diagram: room for what was read and for what is needed.
Axes axesOf(const MinimumLoadView& view, std::optional<double> dummyA, const QRect& rect, const Look& look)
{
    const MinimumLoadResult& fit = *view.fit;
    const VoltageWindow& window = view.input.window;
    AxisRange amperes{0, 0.1};
    AxisRange volts{window.min_v, window.max_v};
    for (const LoadReading& r : view.input.readings) {
        amperes.include(r.current_a * 1.15);
        volts.include(r.v);
    }
    if (fit.least_current_a)
        amperes.include(*fit.least_current_a * 1.25);
    if (dummyA)
        amperes.include((*dummyA + view.present_a) * 1.15);
    // Wide enough for every bank there is, so that nothing moves while one is drawn along.
    for (const DummyLoadOption& option : view.options)
        amperes.include((option.current_a + view.present_a) * 1.1);
    volts.widen(0.15, window.max_v - window.min_v);
    amperes.low = -0.04 * amperes.high; // what was read without load stands clear of the axis
    return Axes(QRectF(rect).adjusted(look.px(60), look.px(26), -look.px(14), -look.px(44)), amperes, volts);
}

} // namespace

void LoadPicture::paintEvent(QPaintEvent* /*event*/)
{
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    const Colours& c = m_look.colours();
    m_axes.reset();
    if (!m_view.fit || m_view.input.readings.empty()) {
        return paintSentence(painter, rect(),
                             m_view.fit
                                 ? tr("Log the rail with its load: %1 12.4 @0.5A. When it is unsteady, "
                                      "log hunting behind it.")
                                       .arg(m_rail)
                                 : qs(m_view.sentence),
                             m_look);
    }
    const MinimumLoadResult& fit = *m_view.fit;
    const VoltageWindow& window = m_view.input.window;
    const Axes axes = axesOf(m_view, m_dummyA, rect(), m_look);
    m_axes = axes;
    painter.save();
    painter.setClipRect(axes.box());
    QColor band = c.fits;
    band.setAlpha(m_look.dark() ? 56 : 40);
    painter.fillRect(QRectF(axes.box().left(), axes.y(window.max_v), axes.box().width(),
                            axes.y(window.min_v) - axes.y(window.max_v)),
                     band);
    // Up to where it was last seen unsteady.
    double unsteadyA = 0;
    for (const LoadReading& r : m_view.input.readings)
        if (r.hunting)
            unsteadyA = std::max(unsteadyA, r.current_a);
    if (fit.hunting > 0) {
        const double edge = fit.steady_from_a
                                ? axes.x(std::max(unsteadyA, (unsteadyA + *fit.steady_from_a) / 2))
                                : axes.box().right();
        QColor hatch = c.breaks;
        hatch.setAlpha(130);
        painter.fillRect(
            QRectF(axes.box().left(), axes.box().top(), edge - axes.box().left(), axes.box().height()),
            QBrush(hatch, Qt::BDiagPattern));
        paintText(painter, QRectF(axes.box().left() + 4, axes.box().top() + 2, m_look.px(120), m_look.px(18)),
                  tr("unsteady"), m_look.caption(), c.breaks);
    }
    if (fit.v0_v) {
        painter.setPen(QPen(c.ink, 1.4));
        const double mostA = axes.valueAtX(axes.box().right());
        painter.drawLine(axes.at(0, *fit.v0_v), axes.at(mostA, *fit.v0_v - *fit.r_ohm * mostA));
    }
    // The least current's words stand left of it where there is room: the dummy's line is at its right.
    const auto mark = [&](double a, const QColor& colour, const QString& label, double y, bool before) {
        painter.setPen(QPen(colour, 1.6, Qt::DashLine));
        painter.drawLine(QPointF(axes.x(a), axes.box().top()), QPointF(axes.x(a), axes.box().bottom()));
        const double wide = textWidth(label, m_look.font(13, true)) + 4;
        const double left = axes.x(a) - wide - 2;
        const double from =
            before && left > axes.box().left() ? left : std::min(axes.x(a) + 4, axes.box().right() - wide);
        paintText(painter, QRectF(from, axes.box().top() + y, wide, m_look.px(18)), label,
                  m_look.font(13, true), colour);
    };
    if (fit.least_current_a)
        mark(*fit.least_current_a, c.fits, tr("least %1").arg(amps(*fit.least_current_a)), m_look.px(20),
             true);
    if (m_dummyA)
        mark(m_view.present_a + *m_dummyA, c.planned,
             tr("with dummy %1").arg(amps(m_view.present_a + *m_dummyA)), m_look.px(40), false);
    for (const LoadReading& r : m_view.input.readings) {
        const QPointF at = axes.at(r.current_a, r.v);
        painter.setPen(QPen(c.measured, 2));
        painter.setBrush(r.hunting ? QBrush(Qt::NoBrush) : QBrush(c.measured));
        if (r.hunting) {
            const double s = m_look.px(6);
            painter.drawPolyline(QPolygonF{{at + QPointF(-s, s), at + QPointF(-s / 3, -s),
                                            at + QPointF(s / 3, s), at + QPointF(s, -s)}});
        } else {
            painter.drawEllipse(at, m_look.px(4), m_look.px(4));
        }
    }
    painter.restore();
    axes.paint(painter, m_look, tr("load current, A"), tr("%1, V").arg(m_rail));
}

LoadPage::LoadPage(JobSession& session, Look& look, QWidget* parent)
    : WorkspacePage(session, look, parent)
    , m_picture(new LoadPicture(look))
    , m_wanted(new Paragraph)
    , m_options(new OptionList(
          tr("Resistor banks from the drawer"), look, 48,
          [this](QPainter& painter, const QRectF& box, int row) { paintOption(painter, box, row); },
          [this](int row) { return optionText(row); }))
    , m_users(new Paragraph)
    , m_stack(new QStackedWidget)
{
    body().addWidget(m_picture, 1);
    auto* side = new QWidget;
    auto* right = new QVBoxLayout(side);
    right->setContentsMargins(0, 0, 0, 0);
    auto* head = new QHBoxLayout;
    addTabs(*head, {tr("Dummy load"), tr("Take the rail away")},
            [this](int index) { m_stack->setCurrentIndex(index); });
    head->addStretch();
    right->addLayout(head);
    auto* bank = new QWidget;
    auto* bankLayout = new QVBoxLayout(bank);
    bankLayout->setContentsMargins(0, 0, 0, 0);
    m_wanted->setProperty("role", u"caption"_s);
    bankLayout->addWidget(m_wanted);
    bankLayout->addWidget(m_options, 1);
    bankLayout->addWidget(caption(tr("↑ ↓ look · Enter plan it · or drag in the picture · mount on metal or "
                                     "in moving air, off wires and capacitors")));
    m_stack->addWidget(bank);
    m_users->setAlignment(Qt::AlignTop);
    m_users->setTextFormat(Qt::RichText);
    m_stack->addWidget(scrolling(m_users));
    right->addWidget(m_stack, 1);
    body().addWidget(scrolling(side), 1);
    offer(*m_options, tr("dummy load"), [this](Job& job, int row) { job.plan.dummy_load = planOf(row); });
    connect(m_picture, &LoadPicture::dragged, this, [this](double a) {
        m_session.preview([plan = planOf(nearestOption(a))](Job& job) { job.plan.dummy_load = plan; });
    });
    connect(m_picture, &LoadPicture::dropped, this, [this](double a) {
        m_session.edit(tr("dummy load"),
                       [plan = planOf(nearestOption(a))](Job& job) { job.plan.dummy_load = plan; });
    });
    follow();
}

/// The bank whose current comes nearest.
int LoadPage::nearestOption(double a) const
{
    const auto nearest = std::ranges::min_element(
        m_view.options, {}, [a](const DummyLoadOption& option) { return std::abs(option.current_a - a); });
    return static_cast<int>(nearest - m_view.options.begin());
}

void LoadPage::refresh()
{
    const Rail& rail = m_session.selectedRail();
    m_view = minimumLoadView(m_session.job(), m_session.evaluation(), rail);
    const auto& dummy = m_session.job().plan.dummy_load;
    std::optional<double> dummyA;
    if (dummy && dummy->rail == rail.name && rail.v_v)
        dummyA = *rail.v_v / dummy->network.ohm();
    m_picture->show(m_view, qs(rail.name), dummyA);
    setSentence(qs(m_view.sentence));
    m_wanted->setText(
        m_view.wanted.max_a <= 0
            ? tr("Nothing is missing.")
            : tr("A bank that draws %1 to %2%3.")
                  .arg(amps(m_view.wanted.min_a), amps(m_view.wanted.max_a),
                       m_view.assumed ? tr(" (a usual start, assumed: no readings yet)") : QString()));
    m_options->setCount(static_cast<int>(m_view.options.size()));
    const auto planned = std::ranges::find_if(m_view.options, [&](const DummyLoadOption& o) {
        return dummy && dummy->rail == rail.name && o.network == dummy->network;
    });
    if (planned != m_view.options.end())
        m_options->follow(static_cast<int>(planned - m_view.options.begin()));
    m_users->setText(usersHtml());
}

QString LoadPage::usersHtml() const
{
    const Rail& rail = m_session.selectedRail();
    QString html = u"<p><b>%1</b></p>"_s.arg(tr("Who else uses %1?").arg(qs(rail.name).toHtmlEscaped()));
    if (rail.users.empty())
        return html +
               u"<p>%1</p>"_s.arg(
                   tr("Nobody is entered. Trace every wire and track of this rail before it is taken away: "
                      "until then the answer is unknown."));
    for (const RailUser& user : rail.users)
        html += u"<p><b>%1</b>%2%3<br>%4</p>"_s.arg(
            qs(user.name).toHtmlEscaped(),
            user.connector.empty() ? QString() : u" · "_s + qs(user.connector).toHtmlEscaped(),
            user.typical_a ? u" · "_s + amps(*user.typical_a) : QString(),
            user.if_lost.empty()
                ? tr("what it would lose is not known yet (write nothing where it loses nothing)")
                : tr("would lose: %1").arg(qs(user.if_lost).toHtmlEscaped()));
    return html + schoolsHtml({m_view.school}, m_look.colours());
}

QString LoadPage::optionText(int row) const
{
    const DummyLoadOption& o = m_view.options.at(static_cast<std::size_t>(row));
    const QString how = o.arrangement == Arrangement::Single     ? QString()
                        : o.arrangement == Arrangement::Parallel ? tr(" side by side")
                                                                 : tr(" in a row");
    return tr("%1%2%3: %4, %5, body %6, %7 a year, %8")
        .arg(o.count > 1 ? u"%1 × "_s.arg(o.count) : QString(), qs(formatOhms(o.part.ohm)), how,
             amps(o.current_a), qs(formatValue(o.power_w, Quantity::Power)),
             o.body_k ? celsius(*o.body_k) : tr("unknown"),
             qs(significant(o.energy_j_per_day * daysPerYear / joulesPerKilowattHour, 2)) + u" kWh"_s,
             verdictWord(o.verdict));
}

void LoadPage::paintOption(QPainter& painter, const QRectF& box, int row) const
{
    const Colours& c = m_look.colours();
    const DummyLoadOption& o = m_view.options.at(static_cast<std::size_t>(row));
    const double line = m_look.px(20);
    const double top = box.top() + m_look.px(3);
    paintVerdict(painter, o.verdict, {box.left() + m_look.px(7), top + line / 2}, m_look.px(12), c);
    // The bank: its bodies as they stand.
    double x = box.left() + m_look.px(22);
    for (std::int64_t i = 0; i < o.count; ++i) {
        const bool rowWise = o.arrangement == Arrangement::Series;
        const QRectF body = rowWise ? QRectF(x, top + m_look.px(6), m_look.px(14), m_look.px(8))
                                    : QRectF(x, top + m_look.px(2), m_look.px(7), m_look.px(16));
        painter.setPen(QPen(c.ink, 1));
        painter.setBrush(o.hot ? c.tight : c.ribbon);
        painter.drawRoundedRect(body, 2, 2);
        x += body.width() + m_look.px(rowWise ? 5 : 4);
    }
    const QString name = (o.count > 1 ? u"%1 × "_s.arg(o.count) : QString()) + qs(formatOhms(o.part.ohm));
    paintText(painter, QRectF(x + m_look.px(4), top, box.right() - x, line), name, m_look.font(14, true),
              c.ink);
    paintText(painter, QRectF(box.left(), top, box.width(), line),
              u"%1 · %2"_s.arg(amps(o.current_a), qs(formatValue(o.power_w, Quantity::Power))),
              m_look.font(13), c.planned, Qt::AlignRight | Qt::AlignVCenter);
    // Body temperature on a bar from the room to what the part bears; the stroke is where fingers burn.
    const QRectF bar(box.left() + m_look.px(22), top + line + m_look.px(7), box.width() * 0.36, m_look.px(6));
    painter.setPen(Qt::NoPen);
    painter.setBrush(c.hairline);
    painter.drawRoundedRect(bar, 3, 3);
    const auto at = [&](double kelvin) {
        return bar.left() + std::clamp((kelvin - roomK) / (hottestK - roomK), 0.0, 1.0) * bar.width();
    };
    if (o.body_k) {
        painter.setBrush(c.verdict(o.verdict));
        painter.drawRoundedRect(QRectF(bar.left(), bar.top(), at(*o.body_k) - bar.left(), bar.height()), 3,
                                3);
    }
    painter.setPen(QPen(c.ink, 1.4));
    painter.drawLine(QPointF(at(burnsFingersK), bar.top() - 3), QPointF(at(burnsFingersK), bar.bottom() + 3));
    paintText(painter, QRectF(bar.right() + m_look.px(8), top + line, box.right() - bar.right(), line),
              tr("body %1 · %2 kJ a day")
                  .arg(o.body_k ? celsius(*o.body_k) : tr("unknown"),
                       qs(significant(o.energy_j_per_day / 1000, 3))),
              m_look.caption(), c.softInk);
}

DummyLoadPlan LoadPage::planOf(int row) const
{
    return dummyLoadPlan(m_session.selectedRail().name, m_view.options.at(static_cast<std::size_t>(row)));
}

} // namespace offshoot::ui
