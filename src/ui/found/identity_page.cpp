#include "ui/found/identity_page.h"

#include "ui/fields/flow_row.h"
#include "ui/fields/paragraph.h"
#include "ui/fields/picture_button.h"
#include "ui/fields/value_field.h"
#include "ui/found/clue_pictures.h"
#include "ui/plan/workspace_page.h"
#include "ui/refresh.h"

#include <QFormLayout>
#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>
#include <algorithm>

namespace offshoot::ui {

using namespace Qt::StringLiterals;

namespace {

constexpr std::size_t most_answers = 4;

QString upperFirst(std::string_view text)
{
    QString words = qs(text);
    words[0] = words[0].toUpper();
    return words;
}

} // namespace

IdentityPage::IdentityPage(JobSession& session, Look& look, QWidget* parent)
    : QWidget(parent)
    , m_session(session)
    , m_look(look)
    , m_sentence(new Paragraph)
    , m_outline(caption({}))
    , m_question(new Paragraph)
    , m_help(caption({}))
    , m_kinds(richText())
    , m_pass(new QPushButton(tr("Cannot tell")))
    , m_say(new QPushButton)
{
    auto* holder = new QWidget;
    auto* layout = new QVBoxLayout(holder);
    layout->setContentsMargins(0, look.px(8), look.px(8), 0);
    layout->setSpacing(look.px(8));
    m_sentence->setObjectName(u"identity"_s);
    layout->addWidget(m_sentence);
    layout->addWidget(silhouettes());
    layout->addWidget(m_outline);
    auto* row = new QHBoxLayout;
    row->setSpacing(look.px(20));
    auto* left = new QVBoxLayout;
    left->addWidget(question());
    left->addWidget(seen());
    left->addStretch();
    row->addLayout(left, 5);
    row->addWidget(m_kinds, 3, Qt::AlignTop);
    layout->addLayout(row, 1);
    auto* outer = new QVBoxLayout(this);
    outer->setContentsMargins(0, 0, 0, 0);
    outer->addWidget(scrolling(holder));
    refreshWhileVisible(*this, session, look, [this] { refresh(); });
}

QWidget* IdentityPage::silhouettes()
{
    auto* box = new QWidget;
    auto* row = new QHBoxLayout(box);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(m_look.px(4));
    for (std::size_t i = 0; i < Words<Silhouette>::list.size(); ++i) {
        const auto silhouette = static_cast<Silhouette>(i);
        auto* button = new PictureButton(qs(silhouetteWords(silhouette)), 40, m_look,
                                         [this, silhouette](QPainter& painter, const QRectF& area) {
                                             paintSilhouette(painter, area, silhouette, m_look);
                                         });
        button->setCheckable(true);
        button->setObjectName(u"outline_"_s + qs(word(silhouette)));
        connect(button, &QPushButton::clicked, this, [this, silhouette](bool on) {
            m_passed.clear();
            m_session.edit(tr("what it looks like"), [&](Job& job) {
                setSilhouette(job.found, on ? std::optional(silhouette) : std::nullopt);
            });
        });
        m_outlines.push_back(button);
        row->addWidget(button, 1);
    }
    return box;
}

QWidget* IdentityPage::question()
{
    auto* box = new QWidget;
    auto* column = new QVBoxLayout(box);
    column->setContentsMargins(0, 0, 0, 0);
    m_question->setProperty("role", u"title"_s);
    column->addWidget(m_question);
    column->addWidget(m_help);
    auto* cards = new QHBoxLayout;
    cards->setSpacing(m_look.px(8));
    for (std::size_t i = 0; i < most_answers; ++i) {
        auto* card = new PictureButton({}, 66, m_look, [this, i](QPainter& painter, const QRectF& area) {
            if (m_view.asked && i < m_view.choices.size())
                paintClue(painter, area, *m_view.asked, m_view.choices[i].answer, m_look);
        });
        card->setObjectName(u"answer_%1"_s.arg(i + 1));
        connect(card, &QPushButton::clicked, this, [this, i] { answer(static_cast<int>(i)); });
        m_cards.push_back(card);
        cards->addWidget(card, 1);
    }
    column->addLayout(cards);
    auto* foot = new QWidget;
    auto* buttons = new FlowRow(foot, m_look.px(6));
    m_pass->setObjectName(u"cannotTell"_s);
    m_say->setObjectName(u"sayKind"_s);
    buttons->addWidget(m_pass);
    buttons->addWidget(m_say);
    column->addWidget(foot);
    connect(m_pass, &QPushButton::clicked, this, &IdentityPage::pass);
    connect(m_say, &QPushButton::clicked, this, &IdentityPage::sayIt);
    return box;
}

/// Every look with its answer, to change what was answered wrongly.
QWidget* IdentityPage::seen()
{
    auto* box = new QWidget;
    auto* column = new QVBoxLayout(box);
    column->setContentsMargins(0, m_look.px(10), 0, 0);
    column->addWidget(new QLabel(u"<b>%1</b>"_s.arg(tr("What was seen"))));
    auto* form = new QFormLayout;
    form->setVerticalSpacing(0);
    for (std::size_t i = 0; i < clue_count; ++i) {
        const auto clue = static_cast<KindClue>(i);
        const std::vector<ClueAnswer> answers = answersOf(clue);
        QStringList words{tr("not looked at")};
        for (const ClueAnswer answer : answers)
            words << qs(seenWords(clue, answer));
        const auto get = [clue, answers](const Job& job) {
            const auto& answer = job.found.seen[clue];
            return answer ? static_cast<int>(std::ranges::find(answers, *answer) - answers.begin()) + 1 : 0;
        };
        const auto set = [clue, answers](Job& job, int at) {
            setClue(job.found, clue,
                    at == 0 ? std::nullopt : std::optional(answers.at(static_cast<std::size_t>(at) - 1)));
        };
        form->addRow(upperFirst(clueName(clue)),
                     new ChoiceField(upperFirst(clueName(clue)), words, get, set, m_session));
    }
    column->addLayout(form);
    return box;
}

void IdentityPage::answer(int card)
{
    if (!m_view.asked || card >= static_cast<int>(m_view.choices.size()))
        return;
    const KindClue clue = *m_view.asked;
    const ClueAnswer given = m_view.choices[static_cast<std::size_t>(card)].answer;
    m_session.edit(upperFirst(clueName(clue)), [&](Job& job) { setClue(job.found, clue, given); });
}

void IdentityPage::pass()
{
    if (!m_view.asked)
        return;
    m_passed.push_back(*m_view.asked);
    if (m_passed.size() >= clue_count) // all were: from the start
        m_passed.clear();
    refresh();
}

void IdentityPage::sayIt()
{
    if (!m_view.offered)
        return;
    const Topology kind = *m_view.offered;
    m_session.edit(tr("what it is"), [kind](Job& job) { sayKind(job.found, kind); });
}

void IdentityPage::showQuestion()
{
    const bool asks = m_view.asked.has_value();
    m_question->setVisible(asks);
    m_help->setVisible(asks);
    m_pass->setVisible(asks);
    if (asks) {
        QString help = qs(clueHelp(*m_view.asked));
        if (underTheLid(*m_view.asked) && m_session.evaluation().isolation.state != Isolation::ProvenDead)
            help += u' ' + tr("Unplug it before the lid comes off; look only, and touch nothing until it is "
                              "proven dead.");
        m_question->setText(qs(clueQuestion(*m_view.asked)));
        m_help->setText(qs(m_view.why) + u"<br>"_s + help);
    }
    for (std::size_t i = 0; i < m_cards.size(); ++i) {
        PictureButton& card = *m_cards[i];
        card.setVisible(i < m_view.choices.size());
        if (i >= m_view.choices.size())
            continue;
        card.setText(qs(m_view.choices[i].words));
        card.setAccessibleName(card.text());
        constexpr std::size_t named = 3; // more of them are a list that nobody reads; it stands beside
        const auto left = m_view.choices[i].left;
        card.setNote(left <= named ? qs(m_view.choices[i].leaves) : tr("leaves %1 kinds").arg(left));
        card.setToolTip(qs(m_view.choices[i].leaves));
        card.update();
    }
}

void IdentityPage::refresh()
{
    const Supply& supply = m_session.job().found;
    m_view = identityView(supply, m_passed);
    m_sentence->setText(u"<span style='font-size:%1px'><b>%2</b></span>"_s.arg(m_look.px(17))
                            .arg(qs(m_view.sentence).toHtmlEscaped()));
    for (std::size_t i = 0; i < m_outlines.size(); ++i)
        m_outlines[i]->setChecked(supply.silhouette == static_cast<Silhouette>(i));
    m_outline->setText(m_view.outline.empty()
                           ? QString()
                           : tr("Its outline shows: %1. A look at it weighs more.").arg(qs(m_view.outline)));
    m_outline->setVisible(!m_view.outline.empty());
    showQuestion();
    m_say->setVisible(m_view.offered.has_value());
    if (m_view.offered)
        m_say->setText(tr("It is so: %1").arg(qs(kindWords(*m_view.offered))));
    const Colours& c = m_look.colours();
    QString html = u"<p style='margin:0 0 8px 0'><b>%1</b></p>"_s.arg(tr("What it can be"));
    for (const KindLane& lane : m_view.lanes) {
        const QString name = qs(kindWords(lane.topology)).toHtmlEscaped();
        if (lane.left)
            html += u"<p style='margin:0 0 6px 0'><span style='color:%1'>%2 <b>%3</b></span></p>"_s.arg(
                (lane.taken ? c.planned : c.ink).name(), lane.taken ? u"➤"_s : u"·"_s, name);
        else
            html += u"<p style='margin:0 0 6px 0'><span style='color:%1'>%2 %3</span><br>"
                    u"<span style='color:%1; font-size:%4px'>&nbsp;&nbsp;%5</span></p>"_s
                        .arg(c.softInk.name(), lane.taken ? u"➤"_s : u"–"_s, name)
                        .arg(m_look.px(12))
                        .arg(tr("against it: %1").arg(qs(lane.against).toHtmlEscaped()));
    }
    m_kinds->setText(html);
}

} // namespace offshoot::ui
