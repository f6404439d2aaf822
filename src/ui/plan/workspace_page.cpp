#include "ui/plan/workspace_page.h"

#include "ui/fields/option_list.h"
#include "ui/fields/paragraph.h"
#include "ui/paint/marks.h"
#include "ui/refresh.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QResizeEvent>
#include <QVBoxLayout>

namespace offshoot::ui {

using namespace Qt::StringLiterals;

namespace {

/// Words that are never lower than they need: a layout that is short of room asks for the least height
/// without a width.
class Upright : public Paragraph
{
public:
    QSize minimumSizeHint() const override
    {
        return {QLabel::minimumSizeHint().width(), heightForWidth(width())};
    }

protected:
    void resizeEvent(QResizeEvent* event) override
    {
        QLabel::resizeEvent(event);
        if (event->oldSize().width() != width())
            updateGeometry();
    }
};

} // namespace

WorkspacePage::WorkspacePage(JobSession& session, Look& look, QWidget* parent)
    : QWidget(parent)
    , m_session(session)
    , m_look(look)
    , m_sentence(new Paragraph)
    , m_column(new QVBoxLayout(this))
    , m_body(new QHBoxLayout)
{
    m_column->setContentsMargins(look.px(20), look.px(8), look.px(14), look.px(6));
    m_column->setSpacing(look.px(6));
    m_sentence->setProperty("role", u"title"_s);
    sizedWith(*m_sentence, look, [this, &look] { m_sentence->setMinimumHeight(look.px(48)); });
    m_column->addWidget(m_sentence);
    m_body->setSpacing(look.px(16));
    m_column->addLayout(m_body, 1);
}

void WorkspacePage::setSentence(const QString& text) { m_sentence->setText(text); }

void WorkspacePage::addAbove(QWidget& picture)
{
    m_column->insertWidget(m_column->indexOf(m_sentence) + 1, &picture);
}

void WorkspacePage::offer(OptionList& list, const QString& what,
                          const std::function<void(Job&, int row)>& apply)
{
    connect(&list, &OptionList::looked, this,
            [this, apply](int row) { m_session.preview([&](Job& job) { apply(job, row); }); });
    connect(&list, &OptionList::taken, this,
            [this, apply, what](int row) { m_session.edit(what, [&](Job& job) { apply(job, row); }); });
}

void WorkspacePage::follow()
{
    connect(&m_session, &JobSession::selectionChanged, this, [this] {
        if (isVisible())
            refresh();
    });
    refreshWhileVisible(*m_sentence, m_session, m_look, [this] { refresh(); });
}

void WorkspacePage::hideEvent(QHideEvent* event)
{
    m_session.clearPreview();
    QWidget::hideEvent(event);
}

QLabel* caption(const QString& text)
{
    auto* label = new Paragraph(text);
    label->setProperty("role", u"caption"_s);
    return label;
}

QLabel* richText()
{
    auto* label = new Upright;
    label->setTextFormat(Qt::RichText);
    label->setAlignment(Qt::AlignTop);
    return label;
}

QString judgedHtml(const std::vector<JudgedLine>& lines, const Colours& colours)
{
    QString html = u"<table cellspacing=0 cellpadding=3 width='100%'>"_s;
    for (const JudgedLine& line : lines)
        html += u"<tr><td style='color:%1'><b>%2</b></td><td>%3</td></tr>"_s.arg(
            colours.verdict(line.verdict).name(), verdictWord(line.verdict), qs(line.text).toHtmlEscaped());
    return html + u"</table>"_s;
}

QString schoolsHtml(const std::vector<School>& schools, const Colours& colours)
{
    QString html;
    for (const School& school : schools) {
        if (school.sides.empty())
            continue;
        html += html.isEmpty() ? QString() : u"<hr>"_s;
        html +=
            u"<p><b>%1</b></p><table cellspacing=0 cellpadding=4 width='100%'>"_s.arg(qs(school.question));
        for (std::size_t i = 0; i < school.sides.size(); ++i)
            html += u"<tr><td width='104' valign='top'>%1 %2</td><td valign='top'>%3</td></tr>"_s.arg(
                i == school.pick ? u"<b style='color:%1'>➤"_s.arg(colours.planned.name())
                                 : u"<b style='color:transparent'>➤"_s,
                u"</b><b>"_s + qs(school.sides[i].name).toHtmlEscaped() + u"</b>"_s,
                qs(school.sides[i].figures).toHtmlEscaped());
        html += u"</table><p style='color:%1'>%2</p>"_s.arg(colours.softInk.name(),
                                                            qs(school.why).toHtmlEscaped());
    }
    return html;
}

} // namespace offshoot::ui
