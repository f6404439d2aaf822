#include "ui/noise/noise_page.h"

#include "core/values/format.h"
#include "ui/fields/job_table.h"
#include "ui/fields/value_field.h"
#include "ui/paint/curves.h"
#include "ui/paint/marks.h"

#include <QCoreApplication>
#include <QFormLayout>
#include <QHBoxLayout>
#include <QLabel>
#include <QPainter>
#include <QPushButton>
#include <QScrollArea>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>

namespace offshoot::ui {

using namespace Qt::StringLiterals;

namespace {

QString tr(const char* text) { return QCoreApplication::translate("NoisePage", text); }

NoiseSection& section(Job& job, std::size_t row) { return job.found.mains_side.noise.at(row); }

const QStringList& kindNames()
{
    static const QStringList names{tr("resistor"), tr("capacitor across"), tr("choke"),
                                   tr("common-mode choke")};
    return names;
}

/// A section of another kind starts from usual figures: what belonged to the old kind would not be read.
NoiseSection usual(FilterKind kind)
{
    switch (kind) {
    case FilterKind::R:
        return {.kind = kind, .r_ohm = 1.0};
    case FilterKind::C:
        return {.kind = kind, .c_f = 100e-6, .esr_ohm = 0.05, .esl_h = 10e-9};
    case FilterKind::L:
        return {.kind = kind, .r_ohm = 0.03, .l_h = 10e-6, .c_par_f = 10e-12};
    case FilterKind::Cm:
        return {.kind = kind, .r_ohm = 0.05, .leakage_h = 4e-6, .c_par_f = 10e-12};
    }
    return {.kind = kind};
}

TableColumn kindColumn()
{
    return {.title = tr("part"),
            .get =
                [](const Job& job, std::size_t row) {
                    return kindNames().at(static_cast<int>(job.found.mains_side.noise.at(row).kind));
                },
            .set = [](Job& job, std::size_t row, const QString& text) -> QString {
                const auto at = kindNames().indexOf(text);
                if (at < 0)
                    return tr("not one of the parts");
                section(job, row) = usual(static_cast<FilterKind>(at));
                return {};
            },
            .choices = kindNames()};
}

/// The figure that names the part: ohms, farads or henries.
TableColumn valueColumn()
{
    const auto quantity = [](FilterKind kind) {
        return kind == FilterKind::R   ? Quantity::Resistance
               : kind == FilterKind::C ? Quantity::Capacitance
                                       : Quantity::Inductance;
    };
    const auto member = [](NoiseSection& s) -> std::optional<double>& {
        return s.kind == FilterKind::R   ? s.r_ohm
               : s.kind == FilterKind::C ? s.c_f
               : s.kind == FilterKind::L ? s.l_h
                                         : s.leakage_h;
    };
    return {.title = tr("value"),
            .get =
                [=](const Job& job, std::size_t row) {
                    NoiseSection s = job.found.mains_side.noise.at(row);
                    return qs(formatValue(member(s).value_or(0), quantity(s.kind)));
                },
            .set = [=](Job& job, std::size_t row, const QString& text) -> QString {
                NoiseSection& s = section(job, row);
                const auto value = parseValue(text.toStdString(), quantity(s.kind));
                if (!value)
                    return qs(value.problem().message);
                if (value->value <= 0)
                    return tr("more than nothing is wanted");
                member(s) = value->value;
                return {};
            },
            .narrow = true};
}

/// A parasitic that only some kinds have.
TableColumn parasiticColumn(const QString& title, Quantity quantity,
                            const std::function<double*(NoiseSection&)>& at)
{
    return {.title = title,
            .get =
                [=](const Job& job, std::size_t row) {
                    NoiseSection s = job.found.mains_side.noise.at(row);
                    const double* value = at(s);
                    return value != nullptr ? qs(formatValue(*value, quantity)) : u"–"_s;
                },
            .set = [=](Job& job, std::size_t row, const QString& text) -> QString {
                double* value = at(section(job, row));
                if (value == nullptr)
                    return tr("this part has none");
                const auto read = parseValue(text.toStdString(), quantity);
                if (!read)
                    return qs(read.problem().message);
                *value = read->value;
                return {};
            },
            .narrow = true};
}

/// Of a coil: its wire, or what stands across it.
TableColumn coilColumn(const QString& title, std::optional<double> NoiseSection::*member)
{
    const auto isCoil = [](const Job& job, std::size_t row) {
        const FilterKind kind = job.found.mains_side.noise.at(row).kind;
        return kind == FilterKind::L || kind == FilterKind::Cm;
    };
    TableColumn column = numberColumn(
        title, Quantity::Resistance,
        [member](Job& job, std::size_t row) -> std::optional<double>& { return section(job, row).*member; });
    column.get = [isCoil, get = column.get](const Job& job, std::size_t row) {
        return isCoil(job, row) ? get(job, row) : u"–"_s;
    };
    column.set = [isCoil, set = column.set](Job& job, std::size_t row, const QString& text) {
        return isCoil(job, row) ? set(job, row, text) : tr("this part has none");
    };
    return column;
}

TableSpec sectionsSpec()
{
    return {.name = tr("From the noisy side to the load"),
            .one = tr("part"),
            .count = [](const Job& job) { return job.found.mains_side.noise.size(); },
            .add =
                [](Job& job) {
                    auto& list = job.found.mains_side.noise;
                    list.push_back(usual(list.size() % 2 == 0 ? FilterKind::L : FilterKind::C));
                },
            .remove =
                [](Job& job, std::size_t row) {
                    auto& list = job.found.mains_side.noise;
                    list.erase(list.begin() + static_cast<std::ptrdiff_t>(row));
                },
            .columns = {kindColumn(), valueColumn(),
                        parasiticColumn(
                            tr("ESR"), Quantity::Resistance,
                            [](NoiseSection& s) { return s.kind == FilterKind::C ? &s.esr_ohm : nullptr; }),
                        parasiticColumn(
                            tr("its inductance"), Quantity::Inductance,
                            [](NoiseSection& s) { return s.kind == FilterKind::C ? &s.esl_h : nullptr; }),
                        parasiticColumn(tr("its capacitance"), Quantity::Capacitance,
                                        [](NoiseSection& s) {
                                            return s.kind == FilterKind::L || s.kind == FilterKind::Cm
                                                       ? &s.c_par_f
                                                       : nullptr;
                                        }),
                        coilColumn(tr("its wire"), &NoiseSection::r_ohm),
                        coilColumn(tr("across it"), &NoiseSection::r_par_ohm)}};
}

} // namespace

GainPicture::GainPicture(Look& look, QWidget* parent)
    : QWidget(parent)
    , m_look(look)
{
    setAccessibleName(tr("What passes the filter, over frequency"));
    sizedWith(*this, look, [this, &look] { setMinimumSize(look.px(280), look.px(170)); });
}

void GainPicture::show(const NoiseView& view)
{
    m_view = view;
    setAccessibleDescription(qs(view.sentence));
    update();
}

void GainPicture::paintEvent(QPaintEvent* /*event*/)
{
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    if (!m_view.result || m_view.f_hz.empty())
        return paintSentence(painter, rect(), qs(m_view.sentence), m_look);
    const Colours& c = m_look.colours();
    Curve gain{{}, m_view.gain_db, c.planned, 2.2, Qt::SolidLine, {}};
    for (const double f : m_view.f_hz)
        gain.x.push_back(std::log10(f));
    const double low = std::log10(m_view.input->from_hz);
    const double high = std::log10(m_view.input->to_hz);
    AxisRange range = yRange({gain});
    range.low = std::max(range.low, -160.0);
    const Axes axes(QRectF(rect()).adjusted(m_look.px(60), m_look.px(28), -m_look.px(16), -m_look.px(46)),
                    {low, high}, range);
    QColor above = c.breaks;
    above.setAlpha(m_look.dark() ? 50 : 32);
    painter.fillRect(
        QRectF(axes.box().left(), axes.box().top(), axes.box().width(), axes.y(0) - axes.box().top()), above);
    paintCurves(painter, axes, {gain}, m_look);
    if (const auto& peak = m_view.result->peak) {
        const double at = std::log10(peak->f_hz);
        painter.setPen(QPen(c.breaks, 1.4, Qt::DashLine));
        painter.drawLine(axes.at(at, range.low), axes.at(at, range.high));
        paintText(painter,
                  QRectF(axes.x(at) + 4, axes.box().bottom() - m_look.px(22), m_look.px(160), m_look.px(16)),
                  tr("peak at %1").arg(qs(formatValue(peak->f_hz, Quantity::Frequency))), m_look.caption(),
                  c.breaks);
    }
    for (const FilteredRipple& ripple : m_view.result->ripple) {
        const double at = std::log10(ripple.f_hz);
        const double db = 20 * std::log10(ripple.out_pp_v.value_or(1) / ripple.in_pp_v);
        painter.setPen(QPen(c.measured, 1.6));
        painter.drawLine(axes.at(at, range.low), axes.at(at, range.high));
        painter.setBrush(c.measured);
        painter.drawEllipse(axes.at(at, std::max(db, range.low)), m_look.px(5), m_look.px(5));
        paintText(painter,
                  QRectF(axes.x(at) + 8, axes.y(std::max(db, range.low)) - m_look.px(22), m_look.px(160),
                         m_look.px(18)),
                  tr("%1 dB where it switches").arg(qs(significant(db, 3))), m_look.caption(), c.measured);
    }
    // Decades on the axis below, in words people use.
    painter.setPen(QPen(c.ink, 1.2));
    painter.drawLine(axes.box().bottomLeft(), axes.box().bottomRight());
    painter.drawLine(axes.box().bottomLeft(), axes.box().topLeft());
    for (const double decade : ticks(low, high, 1)) {
        painter.setPen(QPen(c.ink, 1));
        painter.drawLine(QPointF(axes.x(decade), axes.box().bottom()),
                         QPointF(axes.x(decade), axes.box().bottom() + m_look.px(5)));
        paintText(painter,
                  QRectF(std::min<double>(axes.x(decade) - m_look.px(40), width() - m_look.px(82)),
                         axes.box().bottom() + m_look.px(6), m_look.px(80), m_look.px(18)),
                  qs(formatValue(std::pow(10, decade), Quantity::Frequency)), m_look.caption(), c.softInk,
                  Qt::AlignCenter);
    }
    for (const double db : ticks(range.low, range.high, niceStep(range.high - range.low, 6)))
        paintText(painter, QRectF(0, axes.y(db) - m_look.px(9), m_look.px(54), m_look.px(18)),
                  qs(significant(db, 3)), m_look.caption(), c.softInk, Qt::AlignRight | Qt::AlignVCenter);
    paintText(painter, QRectF(m_look.px(4), m_look.px(4), m_look.px(200), m_look.px(18)), tr("passes, dB"),
              m_look.caption(), c.ink);
}

NoisePage::NoisePage(JobSession& session, Look& look, QWidget* parent)
    : WorkspacePage(session, look, parent)
    , m_picture(new GainPicture(look))
    , m_figures(richText())
    , m_damp(new QPushButton(NoisePage::tr("Put the damping in")))
{
    auto* holder = new QWidget;
    auto* column = new QVBoxLayout(holder);
    column->setContentsMargins(0, 0, look.px(6), 0);
    sizedWith(*m_picture, look, [this, &look] { m_picture->setFixedHeight(look.px(214)); });
    column->addWidget(m_picture);
    auto* row = new QHBoxLayout;
    const auto field = [&](ValueSpec spec) {
        auto* form = new QFormLayout;
        addValueRow(*form, std::move(spec), session);
        row->addLayout(form, 1);
    };
    field({.label = NoisePage::tr("Switches at"),
           .quantity = Quantity::Frequency,
           .get = [](const Job& j) { return j.found.mains_side.noise_hz; },
           .set = [](Job& j, std::optional<double> v) { j.found.mains_side.noise_hz = v; },
           .most = 1e12,
           .hint = NoisePage::tr("70kHz")});
    field({.label = NoisePage::tr("Ripple there, p-p"),
           .quantity = Quantity::Voltage,
           .get = [](const Job& j) { return j.found.mains_side.noise_pp_v; },
           .set = [](Job& j, std::optional<double> v) { j.found.mains_side.noise_pp_v = v; },
           .hint = NoisePage::tr("1.5V")});
    column->addLayout(row);
    column->addWidget(m_figures);
    column->addWidget(m_damp, 0, Qt::AlignLeft);
    connect(m_damp, &QPushButton::clicked, this, [this] {
        const Damping damping = *m_view.damping;
        m_session.edit(NoisePage::tr("damping"), [&damping](Job& job) {
            auto& list = job.found.mains_side.noise;
            list.insert(list.begin() + static_cast<std::ptrdiff_t>(damping.section) + 1,
                        NoiseSection{.kind = FilterKind::C, .c_f = damping.c_f, .esr_ohm = damping.r_ohm});
        });
    });
    column->addWidget(new JobTable(sectionsSpec(), session, look));
    column->addWidget(caption(NoisePage::tr(
        "A choke's inductance counts at its direct current. Of a common-mode choke the leakage filters "
        "differential noise. The source is taken as 50 mΩ.")));
    column->addStretch();
    body().addWidget(scrolling(holder));
    follow();
}

void NoisePage::refresh()
{
    m_view = noiseView(m_session.job());
    setSentence(qs(m_view.sentence));
    m_picture->show(m_view);
    QString text;
    if (m_view.result) {
        text = NoisePage::tr("Direct current meets %1.").arg(qs(formatOhms(m_view.result->series_r_ohm)));
        if (const auto& peak = m_view.result->peak; peak && peak->q)
            text += NoisePage::tr(" The peak has a Q of %1: below 1 it does not ring.")
                        .arg(qs(significant(*peak->q, 3)));
    }
    m_figures->setText(text);
    m_damp->setVisible(m_view.damping.has_value());
}

} // namespace offshoot::ui
