#include "ui/plan/wiring_tab.h"

#include "core/kinds/kind.h"
#include "ui/fields/paragraph.h"
#include "ui/paint/wiring.h"
#include "ui/plan/workspace_page.h"
#include "ui/refresh.h"

#include <QScrollArea>
#include <QVBoxLayout>
#include <algorithm>

namespace offshoot::ui {

WiringTab::WiringTab(std::string name, JobSession& session, Look& look, QWidget* parent)
    : QWidget(parent)
    , m_name(std::move(name))
    , m_session(session)
    , m_sentence(new Paragraph)
    , m_picture(new WiringPicture({}, look))
{
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->addWidget(m_sentence);
    layout->addWidget(scrolling(m_picture), 1);
    refreshWhileVisible(*m_sentence, session, look, [this] { refresh(); });
}

void WiringTab::refresh()
{
    const auto all = plannedConnections(m_session.job(), m_session.evaluation());
    const auto planned =
        std::ranges::find_if(all, [this](const Connections& wiring) { return wiring.name == m_name; });
    m_picture->setVisible(planned != all.end());
    m_sentence->setText(planned == all.end() ? tr("Nothing of it is planned yet. Once it is, its wiring is "
                                                  "drawn here, as at the step that makes it.")
                                             : qs(planned->sentence));
    if (planned == all.end())
        return;
    m_picture->show(*planned);
    m_picture->setMinimumWidth(m_picture->sizeHint().width()); // scrolls rather than cut a name
}

} // namespace offshoot::ui
