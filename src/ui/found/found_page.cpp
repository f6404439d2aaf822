#include "ui/found/found_page.h"

#include "core/evaluate/evaluation.h"
#include "core/supply/power_path.h"
#include "core/values/format.h"
#include "ui/fields/paragraph.h"
#include "ui/fields/tab_order.h"
#include "ui/fields/tabs.h"
#include "ui/fields/value_field.h"
#include "ui/found/identity_page.h"
#include "ui/found/photos_page.h"
#include "ui/found/rails_page.h"
#include "ui/found/station_fields.h"
#include "ui/found/units_page.h"
#include "ui/found/walk_page.h"
#include "ui/paint/marks.h"
#include "ui/plan/workspace_page.h"
#include "ui/refresh.h"
#include "ui/retune/divider_drawing.h"

#include <QComboBox>
#include <QFormLayout>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QStackedWidget>
#include <QVBoxLayout>

namespace offshoot::ui {

using namespace Qt::StringLiterals;

/// The part as it looks while its marking is typed.
class PartPicture : public QWidget
{
public:
    explicit PartPicture(Look& look)
        : m_look(look)
    {
        sizedWith(*this, look, [this, &look] { setFixedSize(look.px(120), look.px(30)); });
    }
    void showPart(std::optional<double> ohm, const QString& chip)
    {
        m_ohm = ohm;
        m_chip = chip;
        update();
    }

protected:
    void paintEvent(QPaintEvent* /*event*/) override
    {
        QPainter painter(this);
        if (!m_ohm)
            return;
        if (!m_chip.isEmpty())
            return paintChip(painter, QRectF(20, 3, width() - 60, height() - 6), m_chip, m_look);
        painter.translate(width() / 2.0, height() / 2.0);
        painter.rotate(-90);
        constexpr double usualTolerance = 0.01;
        paintResistor(painter, QRectF(-height() * 0.32, -width() / 2.0, height() * 0.64, width()), *m_ohm,
                      usualTolerance, m_look);
    }

private:
    Look& m_look;
    std::optional<double> m_ohm;
    QString m_chip;
};

LegEntry::LegEntry(bool top, JobSession& session, Look& look, QWidget* parent)
    : QWidget(parent)
    , m_top(top)
    , m_session(session)
    , m_line(new QLineEdit(this))
    , m_says(new Paragraph(this))
    , m_picture(new PartPicture(look))
{
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(2);
    auto* row = new QHBoxLayout;
    row->addWidget(m_line, 1);
    row->addWidget(m_picture);
    layout->addLayout(row);
    layout->addWidget(m_says);
    m_says->setProperty("role", u"caption"_s);
    m_line->setObjectName(top ? u"legTop"_s : u"legBottom"_s);
    m_line->setAccessibleName(top ? tr("Top leg") : tr("Bottom leg"));
    m_line->setPlaceholderText(top ? tr("22k · red red black red brown · smd 223") : tr("2k55"));
    connect(m_line, &QLineEdit::textEdited, this, &LegEntry::understand);
    connect(m_line, &QLineEdit::editingFinished, this, &LegEntry::commit);
    connect(&session, &JobSession::changed, this, &LegEntry::show);
    show();
}

void LegEntry::understand(const QString& text)
{
    if (text.trimmed().isEmpty()) {
        m_says->clear();
        m_picture->showPart({}, {});
        return;
    }
    const LegReading reading = readLeg(text.trimmed());
    const bool chip = text.trimmed().startsWith(u"smd "_s, Qt::CaseInsensitive);
    m_says->setText(reading.message);
    m_says->setProperty("role", reading.network ? u"caption"_s : u"problem"_s);
    m_says->setStyleSheet(m_says->styleSheet()); // the role changed: look again
    m_picture->showPart(reading.network ? std::optional(reading.network->ohm()) : std::nullopt,
                        chip ? text.trimmed().mid(4).toUpper() : QString());
}

void LegEntry::commit()
{
    if (!m_line->isModified())
        return;
    const QString text = m_line->text().trimmed();
    std::optional<Network> network;
    if (!text.isEmpty()) {
        network = readLeg(text).network;
        if (!network)
            return; // what was typed stays, with the message
    }
    m_line->setModified(false);
    m_session.edit(m_line->accessibleName(), [&](Job& job) {
        Feedback& feedback = job.found.rails.front().feedback;
        (m_top ? feedback.top : feedback.bottom) = network;
    });
}

void LegEntry::show()
{
    if (m_line->isModified())
        return;
    const Feedback& feedback = m_session.job().found.rails.front().feedback;
    const auto& network = m_top ? feedback.top : feedback.bottom;
    m_line->setText(network ? qs(network->prettyText()) : QString());
    m_picture->showPart(network ? std::optional(network->ohm()) : std::nullopt, {});
}

FoundPage::FoundPage(JobSession& session, Look& look, QWidget* parent)
    : QWidget(parent)
    , m_session(session)
    , m_look(look)
    , m_stack(new QStackedWidget(this))
    , m_walk(new WalkPage(session, look))
    , m_steps(new ProcedureView(Stage::Found, session, look))
{
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(look.px(20), look.px(10), look.px(14), look.px(6));
    auto* head = new QHBoxLayout;
    auto* name = new TextField(
        tr("Supply"), [](const Job& j) { return j.found.name; },
        [](Job& j, std::string t) { j.found.name = std::move(t); }, session);
    name->setPlaceholderText(tr("name on the plate"));
    sizedWith(*name, look, [name, &look] { name->setMaximumWidth(look.px(130)); });
    head->addWidget(name);
    m_tabs = addTabs(*head,
                     {tr("What is it?"), tr("Walk the board"), tr("Parts"), tr("Rails"), tr("Units"),
                      tr("Photos"), tr("Steps")},
                     [this](int index) { m_stack->setCurrentIndex(index); });
    layout->addLayout(head);
    layout->addWidget(m_stack, 1);
    m_stack->addWidget(new IdentityPage(session, look));
    m_stack->addWidget(m_walk);
    m_stack->addWidget(parts());
    m_stack->addWidget(new RailsPage(session, look));
    m_stack->addWidget(new UnitsPage(session, look));
    m_stack->addWidget(new PhotosPage(session, look));
    m_stack->addWidget(m_steps);
    if (!session.job().found.topology_assumed) // it is known already
        showTab(FoundTab::Parts);
    connect(&session, &JobSession::selectionChanged, this, [this] {
        if (m_stack->currentIndex() < static_cast<int>(FoundTab::Parts) && isVisible())
            showTab(FoundTab::Parts); // a station of the path was chosen: its form is wanted
        showStation();
    });
    connect(&session, &JobSession::changed, this, [this] {
        // Another topology has other ratings, and units come and go.
        if (shownUnit().topology != m_shownTopology || unitCount(m_session.job()) != m_shownUnits)
            QMetaObject::invokeMethod(this, &FoundPage::showStation, Qt::QueuedConnection);
    });
    showStation();
}

void FoundPage::showTab(FoundTab tab) { m_tabs.at(static_cast<std::size_t>(tab))->click(); }

FoundTab FoundPage::tab() const { return static_cast<FoundTab>(m_stack->currentIndex()); }

WalkCourse& FoundPage::walk() { return m_walk->course(); }

QString FoundPage::topic() const
{
    const QStringList topics{u"What is it?"_s, u"Walk the board"_s, u"Parts"_s,    u"Rails"_s,
                             u"Units"_s,       u"Photographs"_s,    u"Isolation"_s};
    return topics.at(m_stack->currentIndex());
}

QWidget* FoundPage::parts()
{
    auto* box = new QWidget;
    auto* row = new QHBoxLayout(box);
    row->setContentsMargins(0, m_look.px(8), 0, 0);
    row->setSpacing(m_look.px(20));
    auto* holder = new QWidget;
    holder->setObjectName(u"stationParts"_s);
    m_station = new QVBoxLayout(holder);
    m_station->setContentsMargins(0, 0, m_look.px(8), 0);
    m_station->addStretch();
    row->addWidget(scrolling(holder), 1);
    m_dividerCard = dividerCard();
    row->addWidget(m_dividerCard, 1);
    return box;
}

QWidget* FoundPage::dividerCard()
{
    auto* box = new QWidget;
    auto* layout = new QVBoxLayout(box);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->addWidget(new DividerDrawing(m_session, m_look, DividerDrawing::Shows::Found), 1);
    auto* form = new QFormLayout;
    auto* reference = new QComboBox;
    struct Kind
    {
        QString name;
        Reference reference;
    };
    const std::vector<Kind> kinds{
        {tr("431-type, 2.495 V 1 %"), {.v_ref_v = 2.495, .tolerance = 0.01, .i_ref_a = 2e-6}},
        {tr("431-type, 2.495 V 0.5 %"), {.v_ref_v = 2.495, .tolerance = 0.005, .i_ref_a = 2e-6}},
        {tr("low-voltage 431-type, 1.24 V 1 %"), {.v_ref_v = 1.24, .tolerance = 0.01, .i_ref_a = 0.2e-6}},
        {tr("317-type, 1.25 V 4 %"), {.v_ref_v = 1.25, .tolerance = 0.04, .i_ref_a = 50e-6}},
        {tr("494-type controller, 2.5 V 2 %"), {.v_ref_v = 2.5, .tolerance = 0.02}}};
    reference->addItem(tr("unknown"));
    for (const Kind& kind : kinds)
        reference->addItem(kind.name);
    reference->addItem(tr("another: its data under Feedback"));
    const int another = reference->count() - 1;
    reference->setObjectName(u"reference"_s);
    reference->setAccessibleName(tr("Reference"));
    form->addRow(tr("Reference"), reference);
    connect(reference, &QComboBox::activated, this, [this, kinds, another](int index) {
        if (index == another)
            return m_session.select(Station::Feedback);
        m_session.edit(tr("reference"), [&](Job& job) {
            auto& r = job.found.rails.front().feedback.reference;
            r = index == 0 ? std::nullopt
                           : std::optional(kinds[static_cast<std::size_t>(index - 1)].reference);
        });
    });
    form->addRow(tr("Top"), new LegEntry(true, m_session, m_look));
    form->addRow(tr("Bottom"), new LegEntry(false, m_session, m_look));
    addValueRow(
        *form,
        {.label = tr("Leg tolerance"),
         .quantity = Quantity::Voltage,
         .get = [](const Job& j) { return std::optional(j.found.rails.front().feedback.tolerance); },
         .set = [](Job& j,
                   std::optional<double> v) { j.found.rails.front().feedback.tolerance = v.value_or(0.01); },
         .zeroAllowed = true,
         .most = 0.99,
         .percent = true},
        m_session);
    layout->addLayout(form);
    auto* infer = new QHBoxLayout;
    for (bool top : {true, false}) {
        auto* button = new QPushButton(top ? tr("Infer top from the reading") : tr("Infer bottom"));
        connect(button, &QPushButton::clicked, this, [this, top] { inferLeg(top); });
        infer->addWidget(button);
    }
    layout->addLayout(infer);
    auto* says = new Paragraph;
    layout->addWidget(says);
    const auto show = [=, this] {
        const auto& r = m_session.job().found.rails.front().feedback.reference;
        int index = r ? another : 0;
        for (std::size_t i = 0; r && i < kinds.size(); ++i)
            if (kinds[i].reference.v_ref_v == r->v_ref_v && kinds[i].reference.tolerance == r->tolerance)
                index = static_cast<int>(i) + 1;
        reference->setCurrentIndex(index);
        const Evaluation& e = m_session.evaluation();
        if (!e.before_message.empty())
            says->setText(
                u"<b style='color:%1'>%2</b>"_s.arg(m_look.colours().breaks.name(), qs(e.before_message)));
        else if (e.found_plain)
            says->setText(tr("Predicted before-reading: <b>%1 to %2 V</b>%3")
                              .arg(qs(fixed(e.found_plain->min_v, 2)), qs(fixed(e.found_plain->max_v, 2)),
                                   e.before ? tr("; read %1, which fits.").arg(qs(formatVolts(e.before->v)))
                                            : tr(".")));
        else
            says->setText(tr("Reference and both legs give the predicted reading."));
    };
    refreshWhileVisible(*says, m_session, m_look, show);
    return scrolling(box);
}

void FoundPage::inferLeg(bool top)
{
    const Evaluation& e = m_session.evaluation();
    const auto& ohm = top ? e.inferred_top_ohm : e.inferred_bottom_ohm;
    if (!ohm) {
        Q_EMIT m_session.problem(tr("Infer needs the reference, the other leg and a before-reading above the "
                                    "reference."));
        return;
    }
    m_session.edit(top ? tr("infer top") : tr("infer bottom"), [&](Job& job) {
        Feedback& f = job.found.rails.front().feedback;
        (top ? f.top : f.bottom) = *parseNetwork(significant(*ohm, 3));
    });
}

/// The stations whose fields the card shows: a rail of a branch is one lane, so all of its stations at once.
std::vector<Station> FoundPage::shownStations() const
{
    if (m_session.selectedRailAt() == 0)
        return {spokenFor(m_session.evaluation().path, m_session.selected())};
    return {Station::OutputRectifier, Station::Smoothing, Station::Cable, Station::Load};
}

const Supply& FoundPage::shownUnit() const
{
    const Job& job = m_session.job();
    return m_unit == 0 || m_unit > job.others.size() ? job.found : job.others[m_unit - 1];
}

void FoundPage::showStation()
{
    const Job& job = m_session.job();
    m_shownUnits = unitCount(job);
    m_unit = std::min(m_unit, job.others.size());
    m_shownTopology = shownUnit().topology;
    m_dividerCard->setVisible(job.found.topology != Topology::Unregulated); // which has no loop
    delete m_stationCard;
    m_stationCard = new QWidget;
    auto* layout = new QVBoxLayout(m_stationCard);
    layout->setContentsMargins(0, 0, 0, 0);
    const std::size_t rail = m_session.selectedRailAt();
    const std::string& name =
        rail == 0 ? m_session.evaluation().stations[static_cast<std::size_t>(shownStations().front())].name
                  : m_session.selectedRail().name;
    auto* title = new QLabel(u"<b>%1</b>"_s.arg(qs(name).toHtmlEscaped()));
    layout->addWidget(title);
    auto* hint =
        new Paragraph(tr("Select a station on the path above (click, or Tab to it and ← →, ↓ for another "
                         "rail). Leave what is not read empty: it counts as unknown."));
    hint->setProperty("role", u"caption"_s);
    layout->addWidget(hint);
    auto* form = new QFormLayout;
    if (m_shownUnits > 1) {
        auto* units = new QComboBox;
        units->setAccessibleName(tr("Unit whose parts these are"));
        for (std::size_t unit = 1; unit <= m_shownUnits; ++unit)
            units->addItem(u"%1  "_s.arg(unit) + qs(unitName(job, unit)));
        units->setCurrentIndex(static_cast<int>(m_unit));
        form->addRow(tr("Unit"), units);
        connect(units, &QComboBox::activated, this, [this](int at) {
            m_unit = static_cast<std::size_t>(at);
            QMetaObject::invokeMethod(this, &FoundPage::showStation, Qt::QueuedConnection);
        });
    }
    for (Station station : shownStations())
        addStationFields({.station = station, .rail = rail, .unit = m_unit}, *form, m_session);
    layout->addLayout(form);
    m_station->insertWidget(0, m_stationCard);
    tabBehind(*m_station->parentWidget(), *m_stationCard);
}

} // namespace offshoot::ui
