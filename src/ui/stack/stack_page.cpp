#include "ui/stack/stack_page.h"

#include "core/values/format.h"
#include "ui/fields/tabs.h"
#include "ui/fields/value_field.h"
#include "ui/paint/figures.h"
#include "ui/paint/marks.h"
#include "ui/plan/wiring_tab.h"

#include <QComboBox>
#include <QFormLayout>
#include <QHBoxLayout>
#include <QLabel>
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

JoinPlan& stackPlan(Job& job)
{
    if (!job.plan.join)
        job.plan.join.emplace();
    job.plan.join->kind = Joining::Stacked;
    return *job.plan.join;
}

/// Where only one figure of a diode was typed the other is what this stack asks for.
ReverseDiode usualDiode(const Job& job)
{
    ReverseDiode diode{.v_rrm_v = 60, .i_a = 1};
    for (std::size_t unit = 1; unit <= unitCount(job); ++unit) {
        const Supply& supply = unitSupply(job, unit);
        const Rail& rail = supply.rails.front();
        diode.v_rrm_v = std::max(diode.v_rrm_v, 2 * rail.v_v.value_or(0));
        diode.i_a = std::max(diode.i_a, 1.5 * supply.joint.i_limit_a.value_or(rail.i_rated_a.value_or(0)));
    }
    return diode;
}

void paintEarth(QPainter& painter, QPointF at, double size)
{
    for (int i = 0; i < 3; ++i) {
        const double half = size * (1 - i * 0.32);
        painter.drawLine(at + QPointF(-half, i * size * 0.45), at + QPointF(half, i * size * 0.45));
    }
}

} // namespace

StackPicture::StackPicture(Look& look, QWidget* parent)
    : QWidget(parent)
    , m_look(look)
{
    setObjectName(u"stackPicture"_s);
    setAccessibleName(tr("Stack with its potentials to earth"));
    setFocusPolicy(Qt::StrongFocus);
    sizedWith(*this, look, [this, &look] { setMinimumSize(look.px(300), look.px(220)); });
    setCursor(Qt::PointingHandCursor);
}

void StackPicture::show(const StackView& view)
{
    m_view = view;
    setAccessibleDescription(qs(view.sentence));
    update();
}

double StackPicture::nodeY(std::size_t node) const
{
    const double bottom = height() - m_look.px(40);
    const double top = m_look.px(26);
    return bottom -
           static_cast<double>(node) * (bottom - top) / static_cast<double>(m_view.model.input->units.size());
}

QRectF StackPicture::unitBox(std::size_t unit) const
{
    const double top = nodeY(unit + 1);
    const double bottom = nodeY(unit);
    const double gap = std::min<double>(m_look.px(14), (bottom - top) * 0.18);
    const double left = width() * 0.34;
    return {left, top + gap, std::min<double>(m_look.px(190), width() * 0.38), bottom - top - 2 * gap};
}

/// The common earth of every case: a bar at the right.
double StackPicture::earthX() const { return unitBox(0).right() + m_look.px(64); }

/// Between a unit and the earth bar, from its lower terminal to its upper one.
QRectF StackPicture::bondBox(std::size_t unit) const
{
    const QRectF box = unitBox(unit);
    return {box.right(), nodeY(unit + 1), earthX() - box.right() - 4, nodeY(unit) - nodeY(unit + 1)};
}

void StackPicture::paintUnit(QPainter& painter, std::size_t unit) const
{
    const Colours& c = m_look.colours();
    const StackUnit& in = m_view.model.input->units[unit];
    const StackedUnit& out = m_view.result->units[unit];
    const QRectF box = unitBox(unit);
    const double middle = box.left() + m_look.px(26);
    // The way through the unit from its lower to its upper terminal.
    painter.setPen(QPen(c.ink, 2));
    painter.drawLine(QPointF(middle, nodeY(unit)), QPointF(middle, nodeY(unit + 1)));
    painter.setPen(QPen(out.shorted ? c.breaks : c.ink, out.shorted ? 2.4 : 1.4));
    painter.setBrush(c.sheet);
    painter.drawRoundedRect(box, 4, 4);
    // Its case is earthed, always.
    painter.setPen(QPen(c.softInk, 1.6));
    painter.drawLine(QPointF(box.right(), box.center().y()), QPointF(earthX(), box.center().y()));
    paintVerdict(painter, out.verdict(), {box.left() + m_look.px(14), box.center().y()}, m_look.px(12), c);
    const double line = std::min<double>(m_look.px(19), box.height() / 2.2);
    const QRectF text(box.left() + m_look.px(40), box.center().y() - line, box.width() - m_look.px(46), line);
    paintText(painter, text, qs(in.name), m_look.font(14, true), c.ink);
    paintText(painter, text.translated(0, line), qs(formatVolts(in.v_v)) + u" · "_s + amps(in.i_limit_a),
              m_look.font(13), c.planned);
    painter.setPen(QPen(c.ink, 1.2));
    paintText(painter, QRectF(middle + 4, nodeY(unit + 1) - m_look.px(2), m_look.px(16), m_look.px(16)),
              u"+"_s, m_look.font(12, true), c.softInk);
    // A reverse diode stands left of its unit, its anode at the lower terminal.
    const double x = box.left() - m_look.px(20);
    const ConnectedPart* diode = partBetween(PartKind::Diode, in.name + " −", in.name + " +");
    painter.setPen(
        QPen(diode != nullptr ? c.ink : c.hairline, 1.4, diode != nullptr ? Qt::SolidLine : Qt::DashLine));
    painter.drawPolyline(QPolygonF{{QPointF(middle, nodeY(unit) - 1), QPointF(x, nodeY(unit) - 1),
                                    QPointF(x, nodeY(unit + 1) + 1), QPointF(middle, nodeY(unit + 1) + 1)}});
    const double s = m_look.px(6);
    const double y = box.center().y();
    painter.setBrush(diode != nullptr ? c.ink : c.sheet);
    painter.drawPolygon(QPolygonF{{QPointF(x, y - s), QPointF(x - s, y + s), QPointF(x + s, y + s)}});
    painter.drawLine(QPointF(x - s, y - s), QPointF(x + s, y - s));
}

const ConnectedPart* StackPicture::partBetween(PartKind kind, const std::string& from,
                                               const std::string& to) const
{
    const auto part = std::ranges::find_if(m_view.wiring.parts, [&](const ConnectedPart& p) {
        return p.kind == kind && p.from == from && p.to == to;
    });
    return part == m_view.wiring.parts.end() ? nullptr : &*part;
}

/// The output's bond to its own case, from the terminal that the connections name.
void StackPicture::paintBond(QPainter& painter, std::size_t unit) const
{
    const Colours& c = m_look.colours();
    const std::string& name = m_view.model.input->units[unit].name;
    const QRectF box = unitBox(unit);
    const double x = box.right() + m_look.px(26);
    if (m_view.as_found.units[unit].bonded == Bond::Unknown) {
        paintText(painter,
                  QRectF(box.right() + 4, box.center().y() - m_look.px(20), m_look.px(60), m_look.px(18)),
                  tr("bond?"), m_look.caption(), c.unknown);
        return;
    }
    const ConnectedPart* upper = partBetween(PartKind::Bond, name + " +", name + " case");
    const ConnectedPart* bond =
        upper != nullptr ? upper : partBetween(PartKind::Bond, name + " −", name + " case");
    if (bond == nullptr)
        return;
    const bool opened = bond->fate == PartFate::TakenOut;
    const double y = nodeY(upper != nullptr ? unit + 1 : unit);
    const double to = box.center().y();
    painter.setPen(QPen(opened ? c.planned : c.ink, 2));
    painter.drawLine(QPointF(box.left() + m_look.px(26), y), QPointF(x, y));
    const double middle = (y + to) / 2;
    if (opened) {
        // Opened: a gap with its ends bent apart.
        painter.drawLine(QPointF(x, y), QPointF(x, middle + (to < y ? 6 : -6)));
        painter.drawLine(QPointF(x, middle + (to < y ? -6 : 6)), QPointF(x, to));
        painter.drawLine(QPointF(x, middle + (to < y ? 6 : -6)), QPointF(x + m_look.px(9), middle));
        paintText(painter,
                  QRectF(earthX() + m_look.px(6), middle - m_look.px(9), m_look.px(70), m_look.px(18)),
                  tr("opened"), m_look.font(12, true), c.planned);
    } else {
        painter.drawLine(QPointF(x, y), QPointF(x, to));
        painter.setBrush(c.ink);
        painter.drawEllipse(QPointF(x, to), m_look.px(3), m_look.px(3));
    }
}

/// From one earthed node through the earth to the other: a short across every unit between.
void StackPicture::paintConflicts(QPainter& painter) const
{
    const Colours& c = m_look.colours();
    for (const EarthConflict& conflict : m_view.result->conflicts) {
        const double from = nodeY(static_cast<std::size_t>(conflict.from_node));
        const double to = nodeY(static_cast<std::size_t>(conflict.to_node));
        const double node = unitBox(0).left() + m_look.px(26);
        QPainterPath path(QPointF(node, from));
        path.lineTo(earthX(), from);
        path.lineTo(earthX(), to);
        path.lineTo(node, to);
        QColor red = c.breaks;
        red.setAlpha(m_look.dark() ? 140 : 110);
        painter.setPen(QPen(red, m_look.px(9), Qt::SolidLine, Qt::RoundCap, Qt::RoundJoin));
        painter.setBrush(Qt::NoBrush);
        painter.drawPath(path);
        paintText(painter,
                  QRectF(earthX() + m_look.px(10), (from + to) / 2 - m_look.px(20),
                         width() - earthX() - m_look.px(12), m_look.px(20)),
                  tr("short"), m_look.font(14, true), c.breaks);
    }
}

void StackPicture::paintNodes(QPainter& painter) const
{
    const Colours& c = m_look.colours();
    const std::size_t units = m_view.model.input->units.size();
    const double x = unitBox(0).left() + m_look.px(26);
    for (std::size_t node = 0; node <= units; ++node) {
        const double y = nodeY(node);
        painter.setPen(QPen(c.hairline, 1));
        painter.drawLine(QPointF(m_look.px(96), y), QPointF(x, y));
        painter.setPen(QPen(c.sheet, 1.2));
        painter.setBrush(c.ink);
        painter.drawEllipse(QPointF(x, y), m_look.px(4), m_look.px(4));
        QString text = tr("floats");
        QColor colour = c.softInk;
        if (m_view.result->nodes_v) {
            const double v = (*m_view.result->nodes_v)[node];
            text = qs(formatVolts(v));
            colour = std::abs(v) > extra_low_v ? c.breaks : c.planned;
        }
        paintText(painter, QRectF(m_look.px(4), y - m_look.px(11), m_look.px(88), m_look.px(22)), text,
                  m_look.number(), colour, Qt::AlignRight | Qt::AlignVCenter);
    }
    paintText(painter, QRectF(m_look.px(4), height() - m_look.px(20), m_look.px(120), m_look.px(18)),
              tr("to earth"), m_look.caption(), c.softInk);
}

void StackPicture::paintEvent(QPaintEvent* /*event*/)
{
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    if (!m_view.result)
        return paintSentence(painter, rect(), qs(m_view.sentence), m_look);
    const Colours& c = m_look.colours();
    const std::size_t units = m_view.model.input->units.size();
    painter.setPen(QPen(c.softInk, 2));
    painter.drawLine(QPointF(earthX(), unitBox(units - 1).center().y()),
                     QPointF(earthX(), height() - m_look.px(26)));
    paintEarth(painter, {earthX(), double(height() - m_look.px(26))}, m_look.px(11));
    for (std::size_t unit = 0; unit < units; ++unit)
        paintUnit(painter, unit);
    for (std::size_t unit = 0; unit < units; ++unit)
        paintBond(painter, unit);
    paintConflicts(painter);
    paintNodes(painter);
    if (hasFocus() && m_chosen < units) {
        painter.setPen(QPen(c.planned, 1.4, Qt::DotLine));
        painter.setBrush(Qt::NoBrush);
        painter.drawRect(bondBox(m_chosen));
    }
    if (const auto& node = m_view.model.input->earthed_node) {
        const double y = nodeY(static_cast<std::size_t>(*node));
        painter.setPen(QPen(c.planned, 1.8));
        painter.drawLine(QPointF(unitBox(0).left() - m_look.px(44), y),
                         QPointF(unitBox(0).left() + m_look.px(26), y));
        painter.drawLine(QPointF(unitBox(0).left() - m_look.px(44), y),
                         QPointF(unitBox(0).left() - m_look.px(44), y + m_look.px(8)));
        paintEarth(painter, {unitBox(0).left() - m_look.px(44), y + m_look.px(8)}, m_look.px(8));
    }
}

void StackPicture::mousePressEvent(QMouseEvent* event)
{
    if (!m_view.result)
        return;
    for (std::size_t unit = 0; unit < m_view.model.input->units.size(); ++unit)
        if (bondBox(unit).contains(event->position())) {
            m_chosen = unit;
            Q_EMIT bondClicked(unit + 1);
        }
}

void StackPicture::keyPressEvent(QKeyEvent* event)
{
    const std::size_t units = m_view.result ? m_view.model.input->units.size() : 0;
    if (event->key() == Qt::Key_Up && m_chosen + 1 < units)
        ++m_chosen;
    else if (event->key() == Qt::Key_Down && m_chosen > 0)
        --m_chosen;
    else if (event->key() == Qt::Key_Space && m_chosen < units)
        Q_EMIT bondClicked(m_chosen + 1);
    else
        return QWidget::keyPressEvent(event);
    update();
}

StackPage::StackPage(JobSession& session, Look& look, QWidget* parent)
    : WorkspacePage(session, look, parent)
    , m_picture(new StackPicture(look))
{
    body().addWidget(m_picture, 3);
    body().addWidget(side(), 2);
    connect(m_picture, &StackPicture::bondClicked, this, &StackPage::toggleBond);
    follow();
}

namespace {

/// A field of the reverse diodes that the stack gets.
ValueSpec diodeSpec(const QString& label, Quantity quantity, double ReverseDiode::*member,
                    const QString& hint)
{
    return {.label = label,
            .quantity = quantity,
            .get = [member](const Job& job) -> std::optional<double> {
                const auto& join = job.plan.join;
                return join && join->reverse_diode ? std::optional((*join->reverse_diode).*member)
                                                   : std::nullopt;
            },
            .set =
                [member](Job& job, std::optional<double> value) {
                    auto& fitted = stackPlan(job).reverse_diode;
                    if (!value)
                        return fitted.reset();
                    if (!fitted)
                        fitted = usualDiode(job);
                    (*fitted).*member = *value;
                },
            .hint = hint};
}

} // namespace

QWidget* StackPage::side()
{
    auto* box = new QWidget;
    auto* layout = new QVBoxLayout(box);
    layout->setContentsMargins(0, 0, 0, 0);
    auto* head = new QHBoxLayout;
    auto* stack = new QStackedWidget;
    addTabs(*head, {tr("Advice"), tr("Wiring")}, [stack](int index) { stack->setCurrentIndex(index); });
    head->addStretch();
    layout->addLayout(head);
    m_advice = richText();
    stack->addWidget(scrolling(m_advice));
    stack->addWidget(new WiringTab("stack", m_session, m_look));
    layout->addWidget(stack, 1);
    auto* form = new QFormLayout;
    form->setVerticalSpacing(m_look.px(3));
    m_earthed = new QComboBox;
    m_earthed->setAccessibleName(tr("Where load or wiring earths the stack"));
    form->addRow(tr("Earthed by the load"), m_earthed);
    connect(m_earthed, &QComboBox::activated, this, [this](int at) {
        m_session.edit(tr("earthed node"), [at](Job& job) {
            stackPlan(job).earthed_node = at == 0 ? std::nullopt : std::optional<std::int64_t>(at - 1);
        });
    });
    for (ValueSpec spec :
         {diodeSpec(tr("Reverse diodes, volts"), Quantity::Voltage, &ReverseDiode::v_rrm_v, tr("60V")),
          diodeSpec(tr("and amperes"), Quantity::Current, &ReverseDiode::i_a, tr("20A"))})
        addValueRow(*form, std::move(spec), m_session);
    layout->addLayout(form);
    auto* buttons = new QHBoxLayout;
    m_plan = new QPushButton;
    m_open = new QPushButton(tr("Open the bonds named"));
    buttons->addWidget(m_plan);
    buttons->addWidget(m_open);
    buttons->addStretch();
    layout->addLayout(buttons);
    layout->addWidget(caption(
        tr("click a bond, or ↑ ↓ Space, to open or close it in the plan · the case keeps its earth")));
    connect(m_plan, &QPushButton::clicked, this, [this] {
        m_session.edit(tr("stack"), [](Job& job) {
            if (job.plan.join && job.plan.join->kind == Joining::Stacked)
                job.plan.join.reset();
            else
                stackPlan(job);
        });
    });
    connect(m_open, &QPushButton::clicked, this, [this] {
        m_session.edit(tr("open output bonds"), [this](Job& job) {
            JoinPlan& plan = stackPlan(job);
            const auto& names = m_view.result->open_bonds;
            for (std::size_t unit = 1; unit <= unitCount(job); ++unit)
                if (std::ranges::count(names, unitName(job, unit)) > 0)
                    plan.opened_bonds.push_back(static_cast<std::int64_t>(unit));
        });
    });
    return box;
}

void StackPage::toggleBond(std::size_t unit)
{
    const Bond bond = unitSupply(m_session.job(), unit).joint.bonded;
    if (bond == Bond::None || bond == Bond::Unknown)
        return; // nothing to open, or nobody knows yet
    m_session.edit(tr("output bond of unit %1").arg(unit), [unit](Job& job) {
        auto& opened = stackPlan(job).opened_bonds;
        const auto number = static_cast<std::int64_t>(unit);
        if (std::erase(opened, number) == 0)
            opened.push_back(number);
        std::ranges::sort(opened);
    });
}

void StackPage::refresh()
{
    const Job& job = m_session.job();
    m_view = stackView(job, m_session.evaluation());
    setSentence(qs(m_view.sentence));
    m_picture->show(m_view);
    QStringList nodes{tr("nowhere")};
    for (std::size_t node = 0; m_view.model.input && node <= m_view.model.input->units.size(); ++node)
        nodes << (node == 0 ? tr("at the bottom")
                            : tr("above %1").arg(qs(m_view.model.input->units[node - 1].name)));
    m_earthed->clear();
    m_earthed->addItems(nodes);
    const auto& join = job.plan.join;
    m_earthed->setCurrentIndex(join && join->earthed_node ? static_cast<int>(*join->earthed_node) + 1 : 0);
    QString html;
    int number = 0;
    for (const std::string& line : m_view.advice)
        html += u"<p><b>%1</b> %2</p>"_s.arg(++number).arg(qs(line).toHtmlEscaped());
    if (m_view.result) {
        html += u"<table cellspacing='0' cellpadding='3'>"_s;
        for (const StackedUnit& unit : m_view.result->units)
            html += u"<tr><td><b>%1</b></td><td>%2</td></tr>"_s.arg(
                qs(unit.name).toHtmlEscaped(),
                tr("%1 to earth at most, insulation %2, diode %3")
                    .arg(qs(formatVolts(unit.to_earth_max_v)), verdictWord(unit.isolation_verdict),
                         unit.diode_verdict ? verdictWord(*unit.diode_verdict) : tr("not needed")));
        html += u"</table>"_s;
    }
    for (const std::string& assumed : m_view.model.assumed)
        html += u"<p style='color:%1'>%2</p>"_s.arg(m_look.colours().softInk.name(),
                                                    tr("assumed, %1").arg(qs(assumed).toHtmlEscaped()));
    m_advice->setText(html);
    const bool planned = join && join->kind == Joining::Stacked;
    m_plan->setText(planned ? tr("Do not stack them") : tr("Plan: stacked"));
    m_plan->setEnabled(m_view.result.has_value());
    m_open->setEnabled(m_view.result && !m_view.result->open_bonds.empty());
}

} // namespace offshoot::ui
