#include "ui/fields/job_table.h"

#include "core/values/format.h"
#include "ui/fields/paragraph.h"
#include "ui/refresh.h"

#include <QComboBox>
#include <QEvent>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QLabel>
#include <QPushButton>
#include <QStyledItemDelegate>
#include <QTableView>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>

namespace offshoot::ui {

using namespace Qt::StringLiterals;

JobTableModel::JobTableModel(TableSpec spec, JobSession& session, Look& look, QObject* parent)
    : QAbstractTableModel(parent)
    , m_spec(std::move(spec))
    , m_session(session)
    , m_look(look)
    , m_rows(static_cast<int>(m_spec.count(session.job())))
{
    connect(&session, &JobSession::changed, this, &JobTableModel::follow);
}

/// Takes over how many rows the job holds now.
void JobTableModel::follow()
{
    const int rows = static_cast<int>(m_spec.count(m_session.job()));
    if (rows != m_rows) {
        beginResetModel();
        m_rows = rows;
        m_typed.clear();
        endResetModel();
    }
}

void JobTableModel::showAnew()
{
    if (m_rows > 0)
        Q_EMIT dataChanged(index(0, 0), index(m_rows - 1, columnCount() - 1));
}

int JobTableModel::rowCount(const QModelIndex& parent) const { return parent.isValid() ? 0 : m_rows; }

int JobTableModel::columnCount(const QModelIndex& parent) const
{
    return parent.isValid() ? 0 : static_cast<int>(m_spec.columns.size());
}

QVariant JobTableModel::data(const QModelIndex& index, int role) const
{
    if (!index.isValid() || index.row() >= static_cast<int>(m_spec.count(m_session.job())))
        return {};
    const auto typed = m_typed.find({index.row(), index.column()});
    if (role == Qt::ForegroundRole && typed != m_typed.end())
        return m_look.colours().breaks;
    if (role != Qt::DisplayRole && role != Qt::EditRole && role != Qt::ToolTipRole)
        return {};
    if (typed != m_typed.end())
        return typed->second;
    const TableColumn& column = m_spec.columns[static_cast<std::size_t>(index.column())];
    return column.get(m_session.job(), static_cast<std::size_t>(index.row()));
}

QVariant JobTableModel::headerData(int section, Qt::Orientation orientation, int role) const
{
    if (orientation != Qt::Horizontal || role != Qt::DisplayRole)
        return {};
    return m_spec.columns[static_cast<std::size_t>(section)].title;
}

Qt::ItemFlags JobTableModel::flags(const QModelIndex& index) const
{
    const Qt::ItemFlags usual = QAbstractTableModel::flags(index);
    if (!index.isValid())
        return usual;
    return m_spec.columns[static_cast<std::size_t>(index.column())].set ? usual | Qt::ItemIsEditable : usual;
}

bool JobTableModel::setData(const QModelIndex& index, const QVariant& value, int role)
{
    if (!index.isValid() || role != Qt::EditRole)
        return false;
    const TableColumn& column = m_spec.columns[static_cast<std::size_t>(index.column())];
    const auto row = static_cast<std::size_t>(index.row());
    const QString text = value.toString().trimmed();
    const std::pair place{index.row(), index.column()};
    Job tried = m_session.job();
    QString wrong = column.set(tried, row, text);
    if (wrong.isEmpty()) {
        try {
            tried.log.clear();                           // nothing in a table hangs on it
            jobFrom(writeJson(tried, NullPolicy::Omit)); // names that clash and the like
        } catch (const DocumentError& error) {
            wrong = QString::fromUtf8(error.what());
        }
    }
    if (!wrong.isEmpty()) {
        m_typed[place] = text;
        Q_EMIT dataChanged(index, index);
        Q_EMIT problem(tr("%1: %2").arg(text, wrong));
        return false;
    }
    m_typed.erase(place);
    Q_EMIT problem({});
    m_session.edit(column.title, [&](Job& job) { column.set(job, row, text); });
    return true;
}

void JobTableModel::add() { m_session.edit(tr("add %1").arg(m_spec.one), m_spec.add); }

void JobTableModel::remove(int row)
{
    if (row < 0 || row >= m_rows || static_cast<std::size_t>(m_rows) <= m_spec.least)
        return;
    m_session.edit(tr("remove %1").arg(m_spec.one),
                   [&](Job& job) { m_spec.remove(job, static_cast<std::size_t>(row)); });
}

namespace {

/// Cells with choices open as a list.
class ChoiceDelegate : public QStyledItemDelegate
{
public:
    ChoiceDelegate(const JobTableModel& model, QObject* parent)
        : QStyledItemDelegate(parent)
        , m_model(model)
    {}
    QWidget* createEditor(QWidget* parent, const QStyleOptionViewItem& option,
                          const QModelIndex& index) const override
    {
        const TableColumn& column = m_model.spec().columns[static_cast<std::size_t>(index.column())];
        if (column.choices.isEmpty())
            return QStyledItemDelegate::createEditor(parent, option, index);
        auto* combo = new QComboBox(parent);
        combo->addItems(column.choices);
        combo->setAccessibleName(column.title);
        return combo;
    }
    void setEditorData(QWidget* editor, const QModelIndex& index) const override
    {
        if (auto* combo = qobject_cast<QComboBox*>(editor))
            combo->setCurrentText(index.data(Qt::EditRole).toString());
        else
            QStyledItemDelegate::setEditorData(editor, index);
    }
    void setModelData(QWidget* editor, QAbstractItemModel* model, const QModelIndex& index) const override
    {
        if (const auto* combo = qobject_cast<QComboBox*>(editor))
            model->setData(index, combo->currentText());
        else
            QStyledItemDelegate::setModelData(editor, model, index);
    }

private:
    const JobTableModel& m_model;
};

} // namespace

JobTable::JobTable(TableSpec spec, JobSession& session, Look& look, QWidget* parent)
    : QWidget(parent)
    , m_look(look)
    , m_model(new JobTableModel(std::move(spec), session, look, this))
    , m_view(new QTableView)
    , m_problem(new Paragraph)
{
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(look.px(4));
    auto* head = new QHBoxLayout;
    head->addWidget(new QLabel(u"<b>%1</b>"_s.arg(m_model->spec().name)));
    head->addStretch();
    auto* add = new QPushButton(tr("Add %1").arg(m_model->spec().one));
    auto* remove = new QPushButton(tr("Remove %1").arg(m_model->spec().one));
    head->addWidget(add);
    head->addWidget(remove);
    layout->addLayout(head);
    m_problem->setProperty("role", u"problem"_s);
    m_problem->hide();
    layout->addWidget(m_problem);
    add->setVisible(bool(m_model->spec().add));
    remove->setVisible(bool(m_model->spec().remove));
    m_view->setModel(m_model);
    m_view->setItemDelegate(new ChoiceDelegate(*m_model, this));
    m_view->setObjectName(m_model->spec().name);
    m_view->setAccessibleName(m_model->spec().name);
    m_view->verticalHeader()->hide();
    for (int i = 0; i < m_model->columnCount(); ++i)
        m_view->horizontalHeader()->setSectionResizeMode(
            i, m_model->spec().columns[static_cast<std::size_t>(i)].narrow ? QHeaderView::ResizeToContents
                                                                           : QHeaderView::Stretch);
    m_view->horizontalHeader()->setDefaultAlignment(Qt::AlignLeft | Qt::AlignVCenter);
    m_view->setVerticalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    m_view->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    m_view->setTabKeyNavigation(false);
    layout->addWidget(m_view);
    connect(add, &QPushButton::clicked, m_model, &JobTableModel::add);
    connect(remove, &QPushButton::clicked, this, [this] { m_model->remove(m_view->currentIndex().row()); });
    connect(m_model, &JobTableModel::problem, m_problem, [this](const QString& text) {
        m_problem->setText(text);
        m_problem->setVisible(!text.isEmpty());
    });
    connect(m_model, &JobTableModel::modelReset, this, &JobTable::fit);
    connect(&look, &Look::changed, this, &JobTable::fit);
    refreshWhileVisible(*this, session, look, [this] { m_model->showAnew(); });
    fit();
}

void JobTable::goTo(int row)
{
    m_view->setCurrentIndex(m_model->index(row, 0));
    m_view->setFocus();
}

void JobTable::showEvent(QShowEvent* event)
{
    QWidget::showEvent(event);
    fit(); // only now the header knows its font
}

void JobTable::changeEvent(QEvent* event)
{
    QWidget::changeEvent(event);
    if (event->type() == QEvent::StyleChange || event->type() == QEvent::FontChange)
        fit();
}

/// As high as its rows: the page scrolls, not each table.
void JobTable::fit()
{
    m_view->verticalHeader()->setDefaultSectionSize(m_look.px(28));
    const int rows = std::max(1, m_model->rowCount());
    m_view->setFixedHeight(m_view->horizontalHeader()->sizeHint().height() +
                           rows * m_view->verticalHeader()->defaultSectionSize() + 2 * m_view->frameWidth() +
                           2);
}

TableColumn textColumn(const QString& title, const TextAt& at, bool mayBeEmpty)
{
    return {.title = title,
            .get = [at](const Job& job, std::size_t row) { return qs(at(const_cast<Job&>(job), row)); },
            .set = [at, mayBeEmpty](Job& job, std::size_t row, const QString& text) -> QString {
                if (text.isEmpty() && !mayBeEmpty)
                    return JobTable::tr("a name is wanted");
                at(job, row) = text.toStdString();
                return {};
            }};
}

TableColumn numberColumn(const QString& title, Quantity quantity, const NumberAt& at)
{
    return {.title = title,
            .get =
                [at, quantity](const Job& job, std::size_t row) {
                    const auto& value = at(const_cast<Job&>(job), row);
                    return !value                          ? QString()
                           : quantity == Quantity::Voltage ? qs(formatVolts(*value))
                                                           : qs(formatValue(*value, quantity));
                },
            .set = [at, quantity](Job& job, std::size_t row, const QString& text) -> QString {
                if (text.isEmpty()) {
                    at(job, row).reset();
                    return {};
                }
                const auto value = parseValue(text.toStdString(), quantity);
                if (!value)
                    return qs(value.problem().message);
                at(job, row) = value->value;
                return {};
            },
            .narrow = true};
}

TableColumn percentColumn(const QString& title, const NumberAt& at)
{
    return {.title = title,
            .get =
                [at](const Job& job, std::size_t row) {
                    const auto& share = at(const_cast<Job&>(job), row);
                    return share ? qs(significant(*share * 100, 4)) + u" %"_s : QString();
                },
            .set = [at](Job& job, std::size_t row, const QString& text) -> QString {
                QString digits = text;
                digits.remove(u'%');
                bool number = false;
                const double percent = digits.trimmed().toDouble(&number);
                if (text.isEmpty())
                    at(job, row).reset();
                else if (!number || !std::isfinite(percent) || percent <= 0)
                    return JobTable::tr("a percentage above 0 is wanted");
                else
                    at(job, row) = percent / 100;
                return {};
            },
            .narrow = true};
}

} // namespace offshoot::ui
