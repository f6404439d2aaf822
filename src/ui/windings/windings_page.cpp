#include "ui/windings/windings_page.h"

#include "core/values/format.h"
#include "ui/fields/job_table.h"
#include "ui/fields/option_list.h"
#include "ui/fields/tabs.h"
#include "ui/fields/value_field.h"
#include "ui/paint/marks.h"
#include "ui/plan/wiring_tab.h"

#include <QAbstractButton>
#include <QCoreApplication>
#include <QFormLayout>
#include <QHBoxLayout>
#include <QLabel>
#include <QPainter>
#include <QScrollArea>
#include <QStackedWidget>
#include <QVBoxLayout>
#include <algorithm>

namespace offshoot::ui {

using namespace Qt::StringLiterals;

namespace {

QString tr(const char* text) { return QCoreApplication::translate("WindingsPage", text); }
QString percentText(double share) { return qs(formatPercent(share, 3)); }

MainsTransformer& transformer(Job& job) { return job.found.mains_side.transformer; }

const QStringList& kindNames()
{
    static const QStringList names{tr("one alone"), tr("in series"), tr("in parallel"),
                                   tr("series, in parallel")};
    return names;
}

QString hazardText(WindingHazard hazard)
{
    switch (hazard) {
    case WindingHazard::SeriesReversed:
        return tr("One winding the wrong way round cancels the flux: only copper limits the current.");
    case WindingHazard::ParallelReversed:
        return tr("The wrong way round in parallel is a short.");
    case WindingHazard::OverFlux:
        return tr("Too much flux: it hums, heats and burns.");
    case WindingHazard::SecondaryHigh:
        return tr("Every secondary gives more than a tenth too much.");
    case WindingHazard::SecondaryLow:
        return tr("Every secondary gives more than a tenth too little.");
    case WindingHazard::OpenAboveMains:
        return tr("A free lead stands above the mains: insulate every free lead by itself.");
    }
    return {};
}

/// "p110 110, p127 127" and back.
TableColumn tapsColumn()
{
    return {.title = tr("taps"),
            .get =
                [](const Job& job, std::size_t row) {
                    QStringList list;
                    for (const auto& [lead, v] : job.found.mains_side.transformer.primaries.at(row).taps)
                        list << qs(lead) + u' ' + qs(significant(v, 5));
                    return list.join(u", "_s);
                },
            .set = [](Job& job, std::size_t row, const QString& text) -> QString {
                std::vector<std::pair<std::string, double>> taps;
                for (const QString& part : text.split(u',', Qt::SkipEmptyParts)) {
                    const QString tap = part.simplified();
                    const auto gap = tap.lastIndexOf(u' ');
                    const auto v = parseValue(tap.mid(gap + 1).toStdString(), Quantity::Voltage);
                    if (gap < 0 || !v)
                        return tr("a tap is a lead and its volts from the start: p110 110");
                    taps.emplace_back(tap.left(gap).toStdString(), v->value);
                }
                transformer(job).primaries.at(row).taps = std::move(taps);
                return {};
            }};
}

TableColumn wantedVolts(const QString& title, double& (*at)(Job&, std::size_t))
{
    return {.title = title,
            .get = [at](const Job& job,
                        std::size_t row) { return qs(formatVolts(at(const_cast<Job&>(job), row))); },
            .set = [at](Job& job, std::size_t row, const QString& text) -> QString {
                const auto v = parseValue(text.toStdString(), Quantity::Voltage);
                if (!v)
                    return qs(v.problem().message);
                if (v->value <= 0)
                    return tr("volts above 0 are wanted");
                at(job, row) = v->value;
                return {};
            },
            .narrow = true};
}

TableSpec primariesSpec()
{
    const auto text = [](std::string Primary::*member) {
        return [member](Job& j, std::size_t r) -> std::string& {
            return transformer(j).primaries.at(r).*member;
        };
    };
    const auto number = [](std::optional<double> Primary::*member) {
        return [member](Job& j, std::size_t r) -> std::optional<double>& {
            return transformer(j).primaries.at(r).*member;
        };
    };
    return {.name = tr("Primaries"),
            .one = tr("winding"),
            .count = [](const Job& job) { return job.found.mains_side.transformer.primaries.size(); },
            .add =
                [](Job& job) {
                    auto& list = transformer(job).primaries;
                    if (list.size() == 4)
                        return;
                    const std::string name(1, static_cast<char>('A' + list.size()));
                    list.push_back({.name = name, .start = name + "1", .end = name + "2", .v_v = 115});
                },
            .remove =
                [](Job& job, std::size_t row) {
                    auto& list = transformer(job).primaries;
                    list.erase(list.begin() + static_cast<std::ptrdiff_t>(row));
                },
            .columns = {textColumn(tr("winding"), text(&Primary::name), false),
                        textColumn(tr("start ●"), text(&Primary::start), false),
                        textColumn(tr("end"), text(&Primary::end), false),
                        wantedVolts(tr("volts"),
                                    [](Job& j, std::size_t r) -> double& {
                                        return transformer(j).primaries.at(r).v_v;
                                    }),
                        tapsColumn(), numberColumn(tr("bears"), Quantity::Current, number(&Primary::i_max_a)),
                        numberColumn(tr("ohms"), Quantity::Resistance, number(&Primary::r_ohm))}};
}

TableSpec secondariesSpec()
{
    const auto number = [](std::optional<double> Secondary::*member) {
        return [member](Job& j, std::size_t r) -> std::optional<double>& {
            return transformer(j).secondaries.at(r).*member;
        };
    };
    return {.name = tr("Secondaries"),
            .one = tr("secondary"),
            .count = [](const Job& job) { return job.found.mains_side.transformer.secondaries.size(); },
            .add =
                [](Job& job) {
                    auto& list = transformer(job).secondaries;
                    list.push_back({.name = "s" + std::to_string(list.size() + 1), .v_v = 12});
                },
            .remove =
                [](Job& job, std::size_t row) {
                    auto& list = transformer(job).secondaries;
                    list.erase(list.begin() + static_cast<std::ptrdiff_t>(row));
                },
            .columns = {textColumn(
                            tr("secondary"),
                            [](Job& j, std::size_t r) -> std::string& {
                                return transformer(j).secondaries.at(r).name;
                            },
                            false),
                        wantedVolts(tr("rated"),
                                    [](Job& j, std::size_t r) -> double& {
                                        return transformer(j).secondaries.at(r).v_v;
                                    }),
                        numberColumn(tr("rated"), Quantity::Current, number(&Secondary::i_a)),
                        numberColumn(tr("ohms"), Quantity::Resistance, number(&Secondary::r_ohm))}};
}

} // namespace

WindingsPage::WindingsPage(JobSession& session, Look& look, QWidget* parent)
    : WorkspacePage(session, look, parent)
    , m_picture(new PrimariesPicture(look))
    , m_connections(new OptionList(
          WindingsPage::tr("Connections"), look, 46,
          [this](QPainter& painter, const QRectF& box, int row) { paintConnection(painter, box, row); },
          [this](int row) { return connectionText(row); }))
    , m_stack(new QStackedWidget)
    , m_proof(richText())
{
    body().addWidget(m_picture, 3);
    body().addWidget(side(), 4);
    offer(*m_connections, WindingsPage::tr("connection"), [this](Job& job, int row) {
        job.plan.connection = connectionPlan(m_view.result->connections.at(static_cast<std::size_t>(row)));
    });
    follow();
}

QWidget* WindingsPage::side()
{
    auto* box = new QWidget;
    auto* layout = new QVBoxLayout(box);
    layout->setContentsMargins(0, 0, 0, 0);
    auto* head = new QHBoxLayout;
    m_asFound = addTabs(*head,
                        {WindingsPage::tr("Connections"), WindingsPage::tr("Wiring"),
                         WindingsPage::tr("Proof and fuse"), WindingsPage::tr("As found")},
                        [this](int index) { m_stack->setCurrentIndex(index); })
                    .back();
    head->addStretch();
    layout->addLayout(head);
    auto* choose = new QWidget;
    auto* chooseLayout = new QVBoxLayout(choose);
    chooseLayout->setContentsMargins(0, 0, 0, 0);
    chooseLayout->addWidget(m_connections, 1);
    chooseLayout->addWidget(
        caption(WindingsPage::tr("↑ ↓ look · Enter plan it · the fixed wiring behind the plug is for "
                                 "licensed practice")));
    m_stack->addWidget(choose);
    m_stack->addWidget(new WiringTab("primaries", m_session, m_look));
    m_stack->addWidget(scrolling(m_proof));
    m_stack->addWidget(entry());
    layout->addWidget(m_stack, 1);
    return box;
}

QWidget* WindingsPage::entry()
{
    auto* holder = new QWidget;
    auto* column = new QVBoxLayout(holder);
    column->setContentsMargins(0, 0, m_look.px(4), 0);
    column->addWidget(new JobTable(primariesSpec(), m_session, m_look));
    column->addWidget(new JobTable(secondariesSpec(), m_session, m_look));
    auto* form = new QFormLayout;
    form->setVerticalSpacing(m_look.px(2));
    const auto add = [&](ValueSpec spec) { addValueRow(*form, std::move(spec), m_session); };
    add({.label = WindingsPage::tr("Made for"),
         .quantity = Quantity::Frequency,
         .get = [](const Job& j) { return j.found.mains_side.transformer.f_rated_hz; },
         .set = [](Job& j, std::optional<double> v) { transformer(j).f_rated_hz = v; },
         .least = 9.99,
         .most = 1000,
         .hint = WindingsPage::tr("50Hz")});
    add({.label = WindingsPage::tr("VA, typed in watts"),
         .quantity = Quantity::Power,
         .get = [](const Job& j) { return j.found.mains_side.transformer.va; },
         .set = [](Job& j, std::optional<double> v) { transformer(j).va = v; },
         .hint = WindingsPage::tr("110W")});
    add({.label = WindingsPage::tr("Rises without load by"),
         .quantity = Quantity::Voltage,
         .get = [](const Job& j) { return j.found.mains_side.transformer.regulation; },
         .set = [](Job& j, std::optional<double> v) { transformer(j).regulation = v; },
         .zeroAllowed = true,
         .most = 1,
         .percent = true,
         .hint = WindingsPage::tr("8 %")});
    form->addRow(WindingsPage::tr("Selector stands at"),
                 new TextField(
                     WindingsPage::tr("Selector stands at"),
                     [](const Job& j) { return j.found.mains_side.transformer.selector; },
                     [](Job& j, std::string text) { transformer(j).selector = std::move(text); }, m_session));
    column->addLayout(form);
    column->addWidget(
        caption(WindingsPage::tr("a lead named by its colour is drawn in it: blue, white/black, tap red")));
    column->addStretch();
    return scrolling(holder);
}

void WindingsPage::refresh()
{
    m_view = windingsView(m_session.job());
    setSentence(qs(m_view.sentence));
    m_picture->show(m_view);
    m_connections->setCount(m_view.result ? static_cast<int>(m_view.result->connections.size()) : 0);
    if (m_view.planned)
        m_connections->follow(static_cast<int>(*m_view.planned));
    m_proof->setText(proofHtml());
    if (!m_view.input)
        m_asFound->click();
}

QString WindingsPage::proofHtml() const
{
    if (!m_view.result)
        return WindingsPage::tr("Enter the windings first, under As found.");
    const Connection& c = m_view.result->connections[m_view.planned.value_or(0)];
    QString html;
    for (const WindingHazard hazard : c.hazards)
        html +=
            u"<p><b style='color:%1'>▼</b> %2</p>"_s.arg(m_look.colours().breaks.name(), hazardText(hazard));
    html += u"<p><b>%1</b></p>"_s.arg(WindingsPage::tr("Prove which ends are like, before mains"));
    for (const PhaseTest& test : m_view.result->phase_tests)
        html += u"<p>%1</p>"_s.arg(WindingsPage::tr("Feed %1 with %2 AC, join %3 to %4, read from %5 to %6: "
                                                    "<b>%7</b> when the dots are right, %8 when "
                                                    "one is the other way round.")
                                       .arg(qs(test.a), qs(formatVolts(test.feed_v)), qs(test.join.first),
                                            qs(test.join.second), qs(test.read.first), qs(test.read.second),
                                            qs(formatVolts(test.sum_v)), qs(formatVolts(test.difference_v))));
    if (c.gap_wrong_v)
        html += u"<p>%1</p>"_s.arg(WindingsPage::tr("All links but the last closed: the gap reads 0 V when "
                                                    "right, %1 when wrong. Close it only then.")
                                       .arg(qs(formatVolts(*c.gap_wrong_v))));
    html += u"<p>%1</p>"_s.arg(WindingsPage::tr(
        "At first mains, through the lamp: a flash then dark is right, full brightness is wrong."));
    if (m_view.fuse && m_view.fuse->value_a)
        html += u"<p><b>%1</b> %2</p>"_s.arg(
            WindingsPage::tr("Fuse T%1 A").arg(qs(significant(*m_view.fuse->value_a, 3))),
            WindingsPage::tr("from %1 VA at this mains and half as much again, slow; its voltage %2.")
                .arg(qs(significant(m_view.input->va * c.va_share, 3)),
                     verdictWord(m_view.fuse->voltage_verdict)));
    if (c.va_share_copper)
        html += u"<p>%1</p>"_s.arg(
            WindingsPage::tr(
                "By the copper as a whole %1 of its power, with one winding at %2 of its current.")
                .arg(percentText(*c.va_share_copper), percentText(*c.copper_current_use)));
    const std::string& selector = m_session.job().found.mains_side.transformer.selector;
    if (!selector.empty())
        html += u"<p>%1</p>"_s.arg(
            WindingsPage::tr("Selector found at %1: set it to the planned mains, and seal it.")
                .arg(qs(selector).toHtmlEscaped()));
    return html;
}

QString WindingsPage::connectionText(int row) const
{
    const Connection& c = m_view.result->connections.at(static_cast<std::size_t>(row));
    return WindingsPage::tr("%1, flux %2, secondaries %3, power %4")
        .arg(kindNames().at(static_cast<int>(c.kind)), percentText(c.flux), percentText(c.v_scale),
             percentText(c.va_share));
}

void WindingsPage::paintConnection(QPainter& painter, const QRectF& box, int row) const
{
    const Colours& colours = m_look.colours();
    const Connection& c = m_view.result->connections.at(static_cast<std::size_t>(row));
    paintVerdict(painter, c.worst(), {box.left() + m_look.px(7), box.top() + m_look.px(14)}, m_look.px(12),
                 colours);
    QStringList strings;
    for (const auto& string : c.strings) {
        QStringList parts;
        for (const Segment& s : string)
            parts << tr("%1 %2 to %3").arg(qs(s.winding), qs(s.from), qs(s.to));
        strings << parts.join(tr(", then "));
    }
    const double line = m_look.px(22);
    paintText(painter, QRectF(box.left() + m_look.px(22), box.top() + 2, box.width() - m_look.px(24), line),
              kindNames().at(static_cast<int>(c.kind)) + u":  "_s + strings.join(tr(", beside ")),
              m_look.font(14, true), colours.ink);
    paintText(painter,
              QRectF(box.left() + m_look.px(22), box.top() + line, box.width() - m_look.px(24), line),
              WindingsPage::tr("flux %1 · outputs %2 · power %3")
                  .arg(percentText(c.flux), percentText(c.v_scale), percentText(c.va_share)),
              m_look.font(13), colours.planned);
}

} // namespace offshoot::ui
