#include "ui/frame/consequences_panel.h"

#include "core/values/format.h"
#include "ui/fields/paragraph.h"
#include "ui/paint/marks.h"

#include <QGridLayout>
#include <QHBoxLayout>
#include <QInputDialog>
#include <QLabel>
#include <QPushButton>
#include <QTextDocument>
#include <QVBoxLayout>
#include <algorithm>

namespace offshoot::ui {

using namespace Qt::StringLiterals;

namespace {

QString shown(double value, std::optional<Quantity> unit)
{
    if (!unit)
        return qs(significant(value, 3));
    return *unit == Quantity::Voltage ? qs(significant(value, 4)) + u" V"_s : qs(formatValue(value, *unit));
}

/// The planned figure without its unit where the limit has the same one.
QString shownOf(const ConsequenceRow& row, std::optional<Quantity> unit)
{
    QString first = shown(*row.planned, unit);
    const QString second = shown(*row.limit, unit);
    if (first.section(u' ', 1) == second.section(u' ', 1))
        first = first.section(u' ', 0, 0);
    return (row.limitIsLeast() ? ConsequencesPanel::tr("%1, needs %2") : ConsequencesPanel::tr("%1 of %2"))
        .arg(first, second);
}

} // namespace

/// The part's name; of another rail than the first with the rail before it.
QString partOf(const ConsequenceRow& row, const Job& job)
{
    const bool other = !row.rail.empty() && row.rail != job.found.rails.front().name;
    return other ? qs(row.rail + " · " + row.part) : qs(row.part);
}

QString figureOf(const ConsequenceRow& row)
{
    const auto unit = rowInfo(row.id).unit;
    if (row.planned && row.limit)
        return shownOf(row, unit);
    if (row.planned)
        return ConsequencesPanel::tr("%1, limit not read").arg(shown(*row.planned, unit));
    return row.verdict == Verdict::Unknown ? ConsequencesPanel::tr("not read") : QString();
}

ConsequencesModel::ConsequencesModel(JobSession& session, QObject* parent)
    : QAbstractListModel(parent)
    , m_session(session)
{
    connect(&session, &JobSession::changed, this, &ConsequencesModel::take);
    take();
}

void ConsequencesModel::take()
{
    const auto& rows = m_session.evaluation().consequences.rows;
    const Plan& plan = m_session.job().plan;
    if (rows == m_rows && plan.accepted == m_accepted && plan.refits == m_refits)
        return;
    m_accepted = plan.accepted;
    m_refits = plan.refits;
    const bool sameShape = rows.size() == m_rows.size();
    if (!sameShape)
        beginResetModel();
    m_rows = rows;
    if (!sameShape)
        endResetModel();
    else if (!m_rows.empty())
        Q_EMIT dataChanged(index(0), index(static_cast<int>(m_rows.size()) - 1));
}

int ConsequencesModel::rowCount(const QModelIndex& parent) const
{
    return parent.isValid() ? 0 : static_cast<int>(m_rows.size());
}

QVariant ConsequencesModel::data(const QModelIndex& index, int role) const
{
    if (!index.isValid() || (role != Qt::DisplayRole && role != Qt::AccessibleTextRole))
        return {};
    const ConsequenceRow& r = row(index.row());
    return u"%1, %2: %3, %4"_s.arg(partOf(r, m_session.job()), qs(r.quantity), figureOf(r),
                                   verdictWord(r.verdict));
}

ConsequencesDelegate::ConsequencesDelegate(const ConsequencesModel& model, JobSession& session, Look& look,
                                           QObject* parent)
    : QStyledItemDelegate(parent)
    , m_model(model)
    , m_session(session)
    , m_look(look)
{}

QString ConsequencesDelegate::workingText(const ConsequenceRow& row) const
{
    QStringList lines{qs(row.formula)};
    if (!row.working.empty())
        lines << u"= "_s + qs(row.working);
    if (row.verdict == Verdict::Unknown)
        lines << tr("Read %1.").arg(qs(row.read_next));
    for (const std::string& assumed : row.assumed)
        lines << tr("assumed: %1").arg(qs(assumed));
    for (const Acceptance& acceptance : m_session.job().plan.accepted)
        if (acceptance.covers(row))
            lines << tr("accepted: %1").arg(qs(acceptance.reason));
    for (const Refit& refit : m_session.job().plan.refits)
        if (refit.covers(row))
            lines << tr("another part is planned: %1").arg(shown(refit.rating, rowInfo(row.id).unit));
    return lines.join(u"\n"_s);
}

QSize ConsequencesDelegate::sizeHint(const QStyleOptionViewItem& option, const QModelIndex& index) const
{
    if (m_folded)
        return {m_look.px(28), m_look.px(34)};
    const ConsequenceRow& row = m_model.row(index.row());
    int height = m_look.px(46);
    const bool firstQuiet = !row.counted && (index.row() == 0 || m_model.row(index.row() - 1).counted);
    if (firstQuiet)
        height += m_look.px(24);
    if (opened == row.key()) {
        const int width =
            std::max(100, option.widget != nullptr ? option.widget->width() - m_look.px(48) : 250);
        height += QFontMetrics(m_look.caption())
                      .boundingRect(QRect(0, 0, width, 10000), Qt::TextWordWrap, workingText(row))
                      .height() +
                  m_look.px(10);
    }
    return {m_look.px(200), height};
}

void ConsequencesDelegate::paint(QPainter* painter, const QStyleOptionViewItem& option,
                                 const QModelIndex& index) const
{
    const Colours& c = m_look.colours();
    const ConsequenceRow& row = m_model.row(index.row());
    painter->save();
    painter->setRenderHint(QPainter::Antialiasing);
    QRectF box = option.rect;
    if (m_folded) {
        paintVerdict(*painter, row.verdict, box.center(), m_look.px(13), c);
        painter->restore();
        return;
    }
    const bool firstQuiet = !row.counted && (index.row() == 0 || m_model.row(index.row() - 1).counted);
    if (firstQuiet) {
        const double y = box.top() + m_look.px(12);
        const QString words = tr("no worse than found");
        const int drawn =
            paintText(*painter, QRectF(box.left() + m_look.px(28), box.top(), box.width(), m_look.px(24)),
                      words, m_look.caption(), c.softInk);
        painter->setPen(c.hairline);
        painter->drawLine(QPointF(box.left() + m_look.px(34) + drawn, y),
                          QPointF(box.right() - m_look.px(8), y));
        box.setTop(box.top() + m_look.px(24));
    }
    const bool focused =
        (option.state & QStyle::State_Selected) != 0 && (option.state & QStyle::State_HasFocus) != 0;
    if (opened == row.key() || focused) {
        painter->setPen(focused ? QPen(c.planned, 1.4) : QPen(Qt::NoPen));
        painter->setBrush(c.selection);
        painter->drawRoundedRect(box.adjusted(2, 1, -2, -1), 4, 4);
    }
    const double left = box.left() + m_look.px(30);
    const double right = box.right() - m_look.px(8);
    paintVerdict(*painter, row.verdict, {box.left() + m_look.px(14), box.top() + m_look.px(15)},
                 m_look.px(13), c);
    const QString figure = figureOf(row);
    const double figureWidth = textWidth(figure, m_look.caption()) + 4;
    paintText(*painter, QRectF(right - figureWidth, box.top() + m_look.px(5), figureWidth, m_look.px(20)),
              figure, m_look.caption(), c.softInk, Qt::AlignRight | Qt::AlignVCenter);
    paintText(*painter, QRectF(left, box.top() + m_look.px(5), right - left - figureWidth - 8, m_look.px(20)),
              u"%1, %2"_s.arg(partOf(row, m_session.job()), qs(row.quantity)), m_look.font(13, true), c.ink);
    const QRectF track(left, box.top() + m_look.px(30), right - left, m_look.px(6));
    paintUse(*painter, track, row.use, row.fits_to, row.verdict, c);
    if (opened == row.key()) {
        painter->setFont(m_look.caption());
        painter->setPen(c.ink);
        painter->drawText(QRectF(left, box.top() + m_look.px(42), right - left, box.height()),
                          Qt::TextWordWrap, workingText(row));
    }
    painter->restore();
}

ConsequencesPanel::ConsequencesPanel(JobSession& session, Look& look, QWidget* parent)
    : QWidget(parent)
    , m_session(session)
    , m_look(look)
    , m_model(new ConsequencesModel(session, this))
    , m_delegate(new ConsequencesDelegate(*m_model, session, look, this))
    , m_list(new QListView(this))
    , m_title(new QLabel(tr("What it drags along"), this))
    , m_order(new QLabel(tr("worst first"), this))
    , m_empty(new Paragraph(
          tr("Say in Need what the load wants: then every part's use of its limit stands here, worst first."),
          this))
    , m_answers(new QWidget(this))
    , m_fit(new QPushButton(tr("Fit another part…"), m_answers))
    , m_accept(new QPushButton(tr("Accept…"), m_answers))
    , m_change(new QPushButton(tr("Change the plan"), m_answers))
{
    setAttribute(Qt::WA_OpaquePaintEvent);
    m_title->setProperty("role", u"title"_s);
    m_order->setProperty("role", u"caption"_s);
    m_list->setObjectName(u"consequences"_s);
    m_list->setAccessibleName(tr("Consequences, worst first"));
    m_list->setModel(m_model);
    m_list->setItemDelegate(m_delegate);
    m_list->setVerticalScrollMode(QAbstractItemView::ScrollPerPixel);
    m_list->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    auto* head = new QHBoxLayout;
    head->addWidget(m_title);
    head->addStretch();
    head->addWidget(m_order);
    // Two rows: side by side they would be cut in a panel of this width.
    auto* buttons = new QGridLayout(m_answers);
    buttons->setContentsMargins(0, 0, 0, 0);
    buttons->addWidget(m_fit, 0, 0);
    buttons->addWidget(m_accept, 0, 1);
    buttons->addWidget(m_change, 1, 0);
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(m_look.px(14), m_look.px(12), m_look.px(10), m_look.px(8));
    layout->addLayout(head);
    m_empty->setProperty("role", u"caption"_s);
    layout->addWidget(m_empty);
    layout->addWidget(m_list, 1);
    layout->addWidget(m_answers);
    m_answers->hide();
    connect(m_list, &QListView::clicked, this, &ConsequencesPanel::toggle);
    connect(m_list, &QListView::activated, this, &ConsequencesPanel::toggle);
    connect(m_fit, &QPushButton::clicked, this, &ConsequencesPanel::fitAnother);
    connect(m_accept, &QPushButton::clicked, this, &ConsequencesPanel::accept);
    connect(m_change, &QPushButton::clicked, this, &ConsequencesPanel::planWanted);
    connect(&session, &JobSession::changed, this, &ConsequencesPanel::showAnswers);
    connect(&look, &Look::changed, this, [this] { m_list->doItemsLayout(); });
    showAnswers();
}

void ConsequencesPanel::setFolded(bool folded)
{
    m_folded = folded;
    m_delegate->setFolded(folded);
    m_list->setVerticalScrollBarPolicy(folded ? Qt::ScrollBarAlwaysOff : Qt::ScrollBarAsNeeded);
    m_title->setVisible(!folded);
    m_order->setVisible(!folded);
    layout()->setContentsMargins(m_look.px(folded ? 4 : 14), m_look.px(12), m_look.px(folded ? 4 : 10),
                                 m_look.px(8));
    showAnswers();
    m_list->doItemsLayout();
}

void ConsequencesPanel::toggle(const QModelIndex& index)
{
    if (m_folded) {
        Q_EMIT unfoldWanted();
        return;
    }
    const ConsequenceRow& row = m_model->row(index.row());
    m_delegate->opened = m_delegate->opened == row.key() ? std::nullopt : std::optional(row.key());
    const auto& rails = m_session.job().found.rails;
    const auto rail = std::ranges::find(rails, row.rail, &Rail::name);
    m_session.select(row.station, rail == rails.end() ? 0 : static_cast<std::size_t>(rail - rails.begin()));
    showAnswers();
    m_list->doItemsLayout();
    m_list->scrollTo(index);
}

void ConsequencesPanel::showAnswers()
{
    m_empty->setVisible(m_model->rowCount() == 0 && !m_folded);
    const auto opened = m_delegate->opened;
    bool answerable = false;
    for (int i = 0; opened && i < m_model->rowCount(); ++i)
        answerable =
            answerable || (m_model->row(i).key() == *opened && m_model->row(i).verdict != Verdict::Fits);
    m_answers->setVisible(answerable && !m_folded);
    if (opened) {
        m_fit->setVisible(!rowInfo(opened->id).rating.empty());
        m_accept->setVisible(!rowInfo(opened->id).mains_side);
    }
}

void ConsequencesPanel::fitAnother()
{
    const RowKey key = *m_delegate->opened;
    const RowInfo& info = rowInfo(key.id);
    QString text;
    QString hint;
    while (true) {
        bool ok = false;
        text =
            QInputDialog::getText(this, tr("Fit another part"),
                                  tr("%1: %2 of the new part\n%3").arg(qs(info.part), qs(info.rating), hint),
                                  QLineEdit::Normal, text, &ok);
        if (!ok)
            return;
        const auto value = parseValue(text.toStdString(), info.unit.value_or(Quantity::Voltage));
        if (value && value->value > 0) {
            m_session.edit(tr("fit another %1").arg(qs(info.part)), [&](Job& job) {
                std::erase_if(job.plan.refits, [&key](const Refit& refit) {
                    return refit.row == key.id && refit.rail == key.rail;
                });
                job.plan.refits.push_back({.row = key.id, .rating = value->value, .rail = key.rail});
            });
            return;
        }
        hint = value ? tr("It must be above zero.") : qs(value.problem().message);
    }
}

void ConsequencesPanel::accept()
{
    const RowKey key = *m_delegate->opened;
    bool ok = false;
    const QString reason =
        QInputDialog::getText(this, tr("Accept"), tr("Why is this acceptable? The report will say it."),
                              QLineEdit::Normal, {}, &ok)
            .trimmed();
    if (!ok || reason.isEmpty())
        return;
    m_session.edit(tr("accept %1").arg(qs(key.part)), [&](Job& job) {
        std::erase_if(job.plan.accepted, [&key](const Acceptance& a) {
            return a.row == key.id && a.rail == key.rail && a.part == key.part;
        });
        job.plan.accepted.push_back(
            {.row = key.id, .reason = reason.toStdString(), .rail = key.rail, .part = key.part});
    });
}

void ConsequencesPanel::paintEvent(QPaintEvent* /*event*/)
{
    QPainter painter(this);
    painter.fillRect(rect(), m_look.colours().paper);
    painter.setPen(m_look.colours().hairline);
    painter.drawLine(0, 0, 0, height());
}

} // namespace offshoot::ui
