#include "ui/wires/wires_page.h"

#include "core/kinds/replace/wiring_card.h"
#include "store/job_store.h"
#include "ui/fields/flow_row.h"
#include "ui/fit/sheet_export.h"

#include <QDateTime>
#include <QFileDialog>
#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QScrollArea>
#include <QVBoxLayout>

namespace offshoot::ui {

using namespace Qt::StringLiterals;

WiresPage::WiresPage(JobSession& session, Look& look, QWidget* parent)
    : WorkspacePage(session, look, parent)
    , m_picture(new WiresPicture(look))
    , m_said(caption({}))
{
    auto* column = new QVBoxLayout;
    column->addWidget(scrolling(m_picture), 1);
    column->addWidget(caption(
        tr("pull a wire to a terminal · ↑ ↓ a wire, ← → its terminal · Space: by what was measured")));
    column->addWidget(tools());
    column->addWidget(m_said);
    m_said->hide();
    body().addLayout(column);
    connect(m_picture, &WiresPicture::pulled, this,
            [this](std::size_t wire, std::size_t terminal) { pull(wire, terminal, true); });
    connect(m_picture, &WiresPicture::walked, this, &WiresPage::walk);
    connect(m_picture, &WiresPicture::automaticWanted, this, [this] {
        if (m_session.job().plan.replace && !m_session.job().plan.replace->pulled.empty())
            m_session.edit(tr("wires by what was measured"),
                           [](Job& job) { job.plan.replace->pulled.clear(); });
    });
    follow();
}

QWidget* WiresPage::tools()
{
    auto* box = new QWidget;
    auto* row = new FlowRow(box, m_look.px(6));
    const auto button = [&](const QString& text, auto act) {
        auto* made = new QPushButton(text);
        connect(made, &QPushButton::clicked, this, act);
        row->addWidget(made);
        return made;
    };
    m_missing = button(tr("New wires for what is missing"), [this] { makeMissing(); });
    m_dropNew = button(tr("Without new wires"), [this] {
        m_session.edit(tr("without new wires"), [](Job& job) { job.plan.replace->new_wires.clear(); });
    });
    m_card = button(tr("Wiring card…"), [this] {
        const QString path = QFileDialog::getSaveFileName(this, tr("Wiring card"), u"wiring-card.pdf"_s,
                                                          tr("PDF (*.pdf);;SVG (*.svg)"));
        if (!path.isEmpty())
            exportCard(path);
    });
    return box;
}

void WiresPage::refresh()
{
    m_view = wiringView(m_session.job());
    setSentence(qs(m_view.sentence));
    m_picture->show(m_view);
    const auto& plan = m_session.job().plan.replace;
    m_missing->setEnabled(plan && !m_view.missing.empty());
    m_dropNew->setEnabled(plan && !plan->new_wires.empty());
    m_card->setEnabled(plan && !m_view.wires.empty());
}

bool WiresPage::pull(std::size_t wire, std::size_t terminal, bool tell)
{
    const PlannedWire& moved = m_view.wires.at(wire);
    const PlannedTerminal& to = m_view.terminals.at(terminal);
    const auto choose = [&](Job& job) {
        std::erase_if(job.plan.replace->pulled,
                      [&](const PulledWire& p) { return p.wire == moved.wire.name; });
        job.plan.replace->pulled.push_back({.wire = moved.wire.name, .terminal = to.name});
    };
    Job trial = m_session.job();
    choose(trial);
    const WiringView then = wiringView(trial);
    if (then.wires.at(wire).terminal != terminal) {
        if (tell)
            say(moved.wire.function == WireFunction::Unknown
                    ? tr("%1 is not measured: it stays at the old side until it is.").arg(qs(moved.wire.name))
                    : tr("%1 is %2, %3 is for %4.")
                          .arg(qs(moved.wire.name), qs(moved.words), qs(to.name), qs(to.words)));
        return false;
    }
    say({});
    const QString what = tr("%1 to %2").arg(qs(moved.wire.name), qs(to.name));
    m_session.edit(what, choose);
    return true;
}

/// Through the terminals that would take it, round and round.
void WiresPage::walk(std::size_t wire, int by)
{
    const auto count = static_cast<int>(m_view.terminals.size());
    if (count == 0)
        return;
    const PlannedWire& moved = m_view.wires.at(wire);
    const int from = moved.terminal ? static_cast<int>(*moved.terminal) : by > 0 ? -1 : 0;
    for (int i = 1; i < count; ++i) {
        const int at = ((from + by * i) % count + count) % count;
        if (pull(wire, static_cast<std::size_t>(at), false))
            return;
    }
    say(moved.wire.function == WireFunction::Unknown
            ? tr("%1 is not measured: it stays at the old side until it is.").arg(qs(moved.wire.name))
            : tr("No other terminal is for %1.").arg(qs(moved.words)));
}

void WiresPage::makeMissing()
{
    const std::vector<Wire> made = missingWires(m_session.job());
    m_session.edit(tr("new wires"), [&](Job& job) {
        auto& all = job.plan.replace->new_wires;
        all.insert(all.end(), made.begin(), made.end());
    });
}

void WiresPage::say(const QString& text)
{
    m_said->setText(text);
    m_said->setVisible(!text.isEmpty());
}

bool WiresPage::exportCard(const QString& path)
{
    const QString date =
        QDateTime::fromSecsSinceEpoch(static_cast<qint64>(m_session.now())).toString(u"d MMMM yyyy"_s);
    try {
        writeSheets(path, {wiringCard(m_session.job(), date.toStdString())}, tr("Wiring card"));
    } catch (const StoreError& error) {
        say(QString::fromUtf8(error.what()));
        return false;
    }
    say(tr("Written to %1.").arg(path));
    return true;
}

} // namespace offshoot::ui
