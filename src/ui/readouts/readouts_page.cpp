#include "ui/readouts/readouts_page.h"

#include "core/values/format.h"
#include "ui/fields/job_table.h"
#include "ui/fields/tab_order.h"
#include "ui/fields/value_field.h"
#include "ui/paint/axes.h"
#include "ui/paint/marks.h"

#include <QComboBox>
#include <QFormLayout>
#include <QHBoxLayout>
#include <QLabel>
#include <QPainter>
#include <QPushButton>
#include <QScrollArea>
#include <QSignalBlocker>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>

namespace offshoot::ui {

using namespace Qt::StringLiterals;

namespace {

constexpr std::array shown_quantities{Quantity::Voltage, Quantity::Current, Quantity::Resistance};

QString unitOf(Quantity quantity)
{
    return quantity == Quantity::Voltage ? u"V"_s : quantity == Quantity::Current ? u"A"_s : u"Ω"_s;
}

QString plainText(double value) { return qs(significant(value, 7)); }

} // namespace

ReadoutPicture::ReadoutPicture(const Look& look, QWidget* parent)
    : QWidget(parent)
    , m_look(look)
{
    setAccessibleName(tr("How far it is off, over what is true"));
    sizedWith(*this, look, [this, &look] { setMinimumSize(look.px(240), look.px(180)); });
}

void ReadoutPicture::show(const ReadoutView& view)
{
    m_view = view;
    setAccessibleDescription(qs(view.sentence));
    update();
}

void ReadoutPicture::paintEvent(QPaintEvent* /*event*/)
{
    QPainter painter(this);
    painter.setRenderHint(QPainter::Antialiasing);
    if (!m_view.result)
        return paintSentence(painter, rect(),
                             tr("Each point stands here with its doubt, in the band of what is claimed."),
                             m_look);
    const Colours& c = m_look.colours();
    const auto& points = m_view.result->points;
    AxisRange truth{0, 0};
    AxisRange error{0, 0};
    for (const CheckedPoint& p : points) {
        truth.include(p.truth);
        error.include(p.error + doubtOf(m_view, p));
        error.include(p.error - doubtOf(m_view, p));
    }
    truth.widen(0.06, 1e-9);
    const auto& claim = m_view.readout.claim;
    if (claim)
        for (const double edge : {truth.low, truth.high}) {
            error.include(allowedError(*claim, edge));
            error.include(-allowedError(*claim, edge));
        }
    error.widen(0.1, 1e-9);
    // Errors are small beside what is read: in thousandths where that is so.
    constexpr double small = 0.5;
    const bool milli = std::max(error.high, -error.low) < small;
    const double factor = milli ? 1e3 : 1;
    const Axes axes(QRectF(rect()).adjusted(m_look.px(62), m_look.px(26), -m_look.px(14), -m_look.px(44)),
                    truth, {error.low * factor, error.high * factor});
    if (claim) {
        QPolygonF band;
        constexpr int steps = 40;
        for (int side : {1, -1})
            for (int i = 0; i <= steps; ++i) {
                const double share = double(side > 0 ? i : steps - i) / steps;
                const double at = truth.low + (truth.high - truth.low) * share;
                band << axes.at(at, side * allowedError(*claim, at) * factor);
            }
        QColor ground = c.fits;
        ground.setAlphaF(0.12F);
        painter.setPen(QPen(c.fits, 1.2, Qt::DashLine));
        painter.setBrush(ground);
        painter.drawPolygon(band);
        paintText(painter,
                  QRectF(axes.box().left() + m_look.px(6), axes.box().top(), m_look.px(240), m_look.px(16)),
                  tr("what it claims"), m_look.caption(), c.fits);
    }
    painter.setPen(QPen(c.softInk, 1));
    painter.drawLine(axes.at(truth.low, 0), axes.at(truth.high, 0));
    const auto from = lineError(*m_view.result, truth.low);
    const auto to = lineError(*m_view.result, truth.high);
    if (from && to) {
        painter.setPen(QPen(c.planned, 1.6, Qt::DotLine));
        painter.save();
        painter.setClipRect(axes.box());
        painter.drawLine(axes.at(truth.low, *from * factor), axes.at(truth.high, *to * factor));
        painter.restore();
    }
    for (const CheckedPoint& p : points) {
        const double w = doubtOf(m_view, p);
        painter.setPen(QPen(c.measured, 2));
        painter.drawLine(axes.at(p.truth, (p.error - w) * factor), axes.at(p.truth, (p.error + w) * factor));
        const QPointF at = axes.at(p.truth, p.error * factor);
        if (claim) {
            paintVerdict(painter, p.verdict, at, m_look.px(11), c);
        } else {
            painter.setBrush(c.measured);
            painter.drawEllipse(at, m_look.px(4), m_look.px(4));
        }
    }
    const QString unit = unitOf(m_view.readout.shows);
    axes.paint(painter, m_look, tr("true, %1").arg(unit),
               tr("shown less true, %1%2").arg(milli ? u"m"_s : QString(), unit));
}

ReadoutsPage::ReadoutsPage(JobSession& session, Look& look, QWidget* parent)
    : WorkspacePage(session, look, parent)
    , m_which(new QComboBox)
    , m_picture(new ReadoutPicture(look))
    , m_tablePlace(new QVBoxLayout)
    , m_fields(fields())
    , m_says(richText())
    , m_take(new QPushButton)
    , m_remove(new QPushButton(tr("Take it away")))
{
    auto* left = new QVBoxLayout;
    auto* row = new QHBoxLayout;
    m_which->setAccessibleName(tr("Which readout"));
    constexpr int letters = 8;
    m_which->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
    m_which->setMinimumContentsLength(letters);
    left->addWidget(m_which);
    auto* display = new QPushButton(tr("A display"));
    auto* own = new QPushButton(tr("My meter"));
    row->addWidget(display);
    row->addWidget(own);
    row->addStretch();
    left->addLayout(row);
    left->addWidget(m_picture, 1);
    body().addLayout(left, 1);
    body().addWidget(side(), 1);
    connect(display, &QPushButton::clicked, this, [this] { add(false, Quantity::Voltage); });
    connect(own, &QPushButton::clicked, this, [this] { add(true, Quantity::Voltage); });
    connect(m_which, &QComboBox::activated, this, [this] { refresh(); });
    connect(m_take, &QPushButton::clicked, this, [this] {
        const auto accuracy = m_view.accuracy;
        const Quantity shows = m_view.readout.shows;
        if (accuracy)
            m_session.edit(tr("the meter's accuracy"),
                           [&](Job& job) { takeAccuracy(job.meter, shows, *accuracy); });
    });
    connect(m_remove, &QPushButton::clicked, this, [this] {
        const auto at = place(m_session.job());
        if (at && !at->on_front)
            m_session.edit(tr("readout away"), [&](Job& job) {
                job.readouts.erase(job.readouts.begin() + static_cast<std::ptrdiff_t>(at->at));
            });
    });
    follow();
}

QWidget* ReadoutsPage::side()
{
    auto* box = new QWidget;
    auto* column = new QVBoxLayout(box);
    column->setContentsMargins(0, 0, 0, 0);
    column->addWidget(m_says);
    column->addLayout(m_tablePlace);
    column->addWidget(m_fields);
    m_take->setProperty("main", true);
    column->addWidget(m_take, 0, Qt::AlignLeft);
    column->addWidget(m_remove, 0, Qt::AlignLeft);
    column->addStretch();
    return scrolling(box);
}

std::optional<ReadoutPlace> ReadoutsPage::place(const Job& job) const
{
    const auto all = readoutPlaces(job);
    const auto at = static_cast<std::size_t>(std::max(m_which->currentIndex(), 0));
    return at < all.size() ? std::optional(all[at]) : std::nullopt;
}

HeldReadout ReadoutsPage::held(const Job& job) const
{
    const auto at = place(job);
    return at ? heldReadout(job, *at) : HeldReadout{};
}

void ReadoutsPage::change(Job& job, const std::function<void(HeldReadout&)>& change) const
{
    const auto at = place(job);
    if (!at)
        return;
    HeldReadout readout = heldReadout(job, *at);
    change(readout);
    putReadout(job, *at, readout);
}

void ReadoutsPage::add(bool ownMeter, Quantity quantity)
{
    m_session.edit(tr("readout"), [&](Job& job) {
        std::string name = ownMeter ? job.meter.name : "display";
        for (int i = 2; std::ranges::count(job.readouts, name, &HeldReadout::name) > 0; ++i)
            name = (ownMeter ? job.meter.name : "display") + " " + std::to_string(i);
        job.readouts.push_back({.name = name, .shows = quantity, .own_meter = ownMeter});
    });
    m_which->setCurrentIndex(m_which->count() - 1);
    refresh();
}

void ReadoutsPage::holdOwnMeter(Quantity quantity)
{
    const auto all = readoutPlaces(m_session.job());
    for (std::size_t i = 0; i < all.size(); ++i) {
        const HeldReadout readout = heldReadout(m_session.job(), all[i]);
        if (readout.own_meter && readout.shows == quantity) {
            refresh();
            m_which->setCurrentIndex(static_cast<int>(i));
            return refresh();
        }
    }
    add(true, quantity);
}

QWidget* ReadoutsPage::fields()
{
    auto* box = new QWidget;
    auto* form = new QFormLayout(box);
    form->setContentsMargins(0, 0, 0, 0);
    form->setVerticalSpacing(m_look.px(2));
    auto* name = new TextField(
        tr("Name of the readout"), [this](const Job& job) { return held(job).name; },
        [this](Job& job, std::string text) {
            if (!text.empty())
                change(job, [&](HeldReadout& r) { r.name = text; });
        },
        m_session);
    form->addRow(tr("Name"), name);
    form->addRow(tr("It shows"),
                 new ChoiceField(
                     tr("What the readout shows"), {tr("volts"), tr("amperes"), tr("ohms")},
                     [this](const Job& job) {
                         return static_cast<int>(std::ranges::find(shown_quantities, held(job).shows) -
                                                 shown_quantities.begin());
                     },
                     [this](Job& job, int at) {
                         change(job, [&](HeldReadout& r) {
                             r.shows = shown_quantities.at(static_cast<std::size_t>(at));
                             if (r.shows != Quantity::Current)
                                 r.through.reset();
                         });
                     },
                     m_session));
    addThroughFields(*form);
    addClaimFields(*form);
    return box;
}

/// What the amperes of the readout go through where its volts are read.
void ReadoutsPage::addThroughFields(QFormLayout& form)
{
    addValueRow(form,
                {.label = tr("Amperes through"),
                 .quantity = Quantity::Resistance,
                 .get = [this](const Job& job) -> std::optional<double> {
                     const auto through = held(job).through;
                     return through ? std::optional(through->ohm) : std::nullopt;
                 },
                 .set =
                     [this](Job& job, std::optional<double> v) {
                         change(job, [&](HeldReadout& r) {
                             r.through = v ? std::optional(
                                                 KnownResistance{*v, r.through ? r.through->tolerance : 0.01})
                                           : std::nullopt;
                             if (r.through)
                                 r.shows = Quantity::Current;
                         });
                     },
                 .hint = tr("0R1: then the volts across it count")},
                m_session);
    addValueRow(form,
                {.label = tr("which is within"),
                 .quantity = Quantity::Number,
                 .get = [this](const Job& job) -> std::optional<double> {
                     const auto through = held(job).through;
                     return through ? std::optional(through->tolerance) : std::nullopt;
                 },
                 .set =
                     [this](Job& job, std::optional<double> v) {
                         change(job, [&](HeldReadout& r) {
                             if (r.through)
                                 r.through->tolerance = v.value_or(0);
                         });
                     },
                 .zeroAllowed = true,
                 .most = 0.5,
                 .percent = true,
                 .hint = tr("1 %")},
                m_session);
}

void ReadoutsPage::addClaimFields(QFormLayout& form)
{
    const auto claim = [&](const QString& label, double ReadoutClaim::*member, bool percent,
                           const QString& hint) {
        addValueRow(form,
                    {.label = label,
                     .quantity = Quantity::Number,
                     .get = [this, member](const Job& job) -> std::optional<double> {
                         const auto held_claim = held(job).claim;
                         return held_claim ? std::optional((*held_claim).*member) : std::nullopt;
                     },
                     .set =
                         [this, member](Job& job, std::optional<double> v) {
                             change(job, [&](HeldReadout& r) {
                                 if (!r.claim)
                                     r.claim.emplace();
                                 (*r.claim).*member = v.value_or(0);
                                 if (*r.claim == ReadoutClaim{})
                                     r.claim.reset();
                             });
                         },
                     .zeroAllowed = true,
                     .most = percent ? 1.0 : 1e6,
                     .percent = percent,
                     .hint = hint},
                    m_session);
    };
    claim(tr("It claims ±"), &ReadoutClaim::reading_fraction, true, tr("1 %"));
    claim(tr("and counts"), &ReadoutClaim::counts, false, tr("2"));
    claim(tr("of"), &ReadoutClaim::resolution, false, tr("0.01, its last digit"));
}

/// Anew where another readout is shown, or one that is read through a resistance.
void ReadoutsPage::renewTable()
{
    const HeldReadout now = held(m_session.job());
    const QString of = QString::number(m_which->currentIndex()) + (now.through ? u"across"_s : u"true"_s) +
                       unitOf(now.shows);
    if (m_table != nullptr && of == m_tableOf)
        return;
    m_tableOf = of;
    delete m_table;
    const auto column = [this](const QString& title,
                               const std::function<std::optional<double>(const ReadoutPair&)>& get,
                               const std::function<void(ReadoutPair&, std::optional<double>)>& set,
                               Quantity quantity, bool mayBeEmpty) {
        return TableColumn{.title = title,
                           .get =
                               [this, get](const Job& job, std::size_t row) {
                                   const HeldReadout readout = held(job);
                                   const auto value =
                                       row < readout.points.size() ? get(readout.points[row]) : std::nullopt;
                                   return value ? plainText(*value) : QString();
                               },
                           .set = [this, set, quantity, mayBeEmpty](Job& job, std::size_t row,
                                                                    const QString& text) -> QString {
                               std::optional<double> value;
                               if (!text.trimmed().isEmpty() || !mayBeEmpty) {
                                   const auto read = parseValue(text.toStdString(), quantity);
                                   if (!read)
                                       return qs(read.problem().message);
                                   if (mayBeEmpty && read->value < 0)
                                       return tr("a doubt is not negative");
                                   value = read->value;
                               }
                               change(job, [&](HeldReadout& r) { set(r.points.at(row), value); });
                               return {};
                           },
                           .narrow = true};
    };
    const Quantity beside = now.through ? Quantity::Voltage : now.shows;
    TableSpec spec{
        .name = tr("Points"),
        .one = tr("point"),
        .count = [this](const Job& job) { return held(job).points.size(); },
        .add =
            [this](Job& job) {
                change(job, [](HeldReadout& r) { r.points.push_back({.shown = 0, .truth = 0}); });
            },
        .remove =
            [this](Job& job, std::size_t row) {
                change(job, [&](HeldReadout& r) {
                    r.points.erase(r.points.begin() + static_cast<std::ptrdiff_t>(row));
                });
            },
        .columns = {column(
                        tr("shown, %1").arg(unitOf(now.shows)),
                        [](const ReadoutPair& p) { return std::optional(p.shown); },
                        [](ReadoutPair& p, std::optional<double> v) { p.shown = *v; }, now.shows, false),
                    column(
                        now.through ? tr("across it, V") : tr("true, %1").arg(unitOf(now.shows)),
                        [](const ReadoutPair& p) { return std::optional(p.truth); },
                        [](ReadoutPair& p, std::optional<double> v) { p.truth = *v; }, beside, false),
                    column(
                        tr("doubt of that"), [](const ReadoutPair& p) { return p.u; },
                        [](ReadoutPair& p, std::optional<double> v) { p.u = v; }, beside, true)}};
    m_table = new JobTable(std::move(spec), m_session, m_look);
    m_tablePlace->addWidget(m_table);
    tabBehind(*m_says, *m_table);
}

QString ReadoutsPage::figuresHtml() const
{
    if (!m_view.result)
        return {};
    const ReadoutCheckResult& r = *m_view.result;
    const Colours& c = m_look.colours();
    QString html;
    if (r.gain && r.offset) {
        // What rounding leaves of a line through every point is no distance.
        constexpr double through = 1e-9;
        const QString off = *r.worst_residual < through
                                ? tr("it goes through every point")
                                : tr("the points lie within %1 of it")
                                      .arg(qs(readoutValue(*r.worst_residual, m_view.readout.shows)));
        html +=
            tr("Its line: gain %1, zero %2; %3.")
                .arg(qs(significant(*r.gain, 5)), qs(readoutValue(*r.offset, m_view.readout.shows)), off) +
            u"<br>"_s;
    }
    if (m_view.readout.claim)
        html += u"<b style='color:%1'>%2</b> %3<br>"_s.arg(
            c.verdict(r.verdict).name(), verdictWord(r.verdict), tr("against what it claims"));
    for (const std::string& assumed : m_view.assumed)
        html += u"<span style='color:%1'>%2 %3.</span><br>"_s.arg(c.softInk.name(), tr("Assumed:"),
                                                                  qs(assumed).toHtmlEscaped());
    return html;
}

void ReadoutsPage::refresh()
{
    const Job& job = m_session.job();
    const auto all = readoutPlaces(job);
    {
        const QSignalBlocker blocked(m_which);
        const int kept = m_which->currentIndex();
        m_which->clear();
        for (const ReadoutPlace& one : all)
            m_which->addItem(qs(one.name) + (one.on_front ? tr(", on the front") : QString()));
        m_which->setCurrentIndex(std::clamp(kept, 0, std::max(static_cast<int>(all.size()) - 1, 0)));
    }
    const auto at = place(job);
    m_fields->setVisible(at.has_value());
    m_which->setEnabled(at.has_value());
    m_remove->setVisible(at && !at->on_front);
    m_view = at ? readoutView(job, *at) : ReadoutView{};
    setSentence(at ? qs(m_view.sentence)
                   : tr("Is a display right, or your own meter? Hold it against something better."));
    m_picture->show(m_view);
    if (at)
        renewTable();
    if (m_table != nullptr)
        m_table->setVisible(at.has_value());
    m_says->setText(figuresHtml());
    m_take->setVisible(m_view.accuracy.has_value());
    if (m_view.accuracy)
        m_take->setText(tr("Take it as the meter's: ±(%1 % + %2 × %3)")
                            .arg(qs(significant(m_view.accuracy->reading_fraction * 100, 3)),
                                 qs(significant(m_view.accuracy->counts, 3)),
                                 qs(readoutValue(m_view.accuracy->resolution, m_view.readout.shows))));
}

} // namespace offshoot::ui
