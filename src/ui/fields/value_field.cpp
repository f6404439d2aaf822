#include "ui/fields/value_field.h"

#include "core/values/format.h"
#include "core/values/marking.h"
#include "ui/fields/paragraph.h"

#include <QFormLayout>
#include <QRegularExpression>
#include <QStyle>
#include <QVBoxLayout>

namespace offshoot::ui {

using namespace Qt::StringLiterals;

ValueField::ValueField(ValueSpec spec, JobSession& session, QWidget* parent)
    : QWidget(parent)
    , m_spec(std::move(spec))
    , m_session(session)
    , m_line(new QLineEdit(this))
    , m_problem(new Paragraph(this))
{
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(2);
    layout->addWidget(m_line);
    layout->addWidget(m_problem);
    m_line->setAccessibleName(m_spec.label);
    m_line->setObjectName(m_spec.label);
    m_line->setPlaceholderText(m_spec.hint.isEmpty() ? tr("unknown") : m_spec.hint);
    m_problem->setProperty("role", u"problem"_s);
    m_problem->hide();
    connect(m_line, &QLineEdit::editingFinished, this, &ValueField::commit);
    connect(m_line, &QLineEdit::textEdited, this, [this](const QString& text) {
        QString message;
        if (!text.trimmed().isEmpty() && !read(text, message))
            complain(message);
        else
            complain({});
    });
    connect(&session, &JobSession::changed, this, &ValueField::show);
    show();
}

QString ValueField::write(double value) const
{
    if (m_spec.ampereHours)
        return qs(significant(value / 3600, 4)) + u" Ah"_s;
    if (m_spec.percent)
        return qs(formatPercent(value, 4));
    if (m_spec.quantity == Quantity::Resistance)
        return qs(formatOhms(value));
    return qs(formatValue(value, m_spec.quantity, 5));
}

std::optional<double> ValueField::read(const QString& text, QString& message) const
{
    QString typed = text.trimmed();
    double scale = 1;
    Quantity quantity = m_spec.quantity;
    if (m_spec.percent || m_spec.ampereHours) {
        for (const QString& unit : {u"%"_s, u"Ah"_s, u"ah"_s})
            if (typed.endsWith(unit))
                typed.chop(unit.size());
        typed = typed.trimmed();
        scale = m_spec.percent ? 0.01 : 3600;
        quantity = Quantity::Number;
    }
    const auto parsed = parseValue(typed.toStdString(), quantity);
    if (!parsed) {
        message = qs(parsed.problem().message);
        return std::nullopt;
    }
    const double value = parsed->value * scale;
    const bool above = m_spec.zeroAllowed ? value >= m_spec.least : value > m_spec.least;
    if (!above || value > m_spec.most) {
        message = above ? tr("at most %1").arg(write(m_spec.most))
                        : tr("must be above %1").arg(write(m_spec.least));
        return std::nullopt;
    }
    return value;
}

void ValueField::complain(const QString& message)
{
    if (m_problem->text() == message)
        return; // polishing again costs more than all the rest of a refresh
    m_problem->setText(message);
    m_problem->setVisible(!message.isEmpty());
    m_line->setProperty("wrong", !message.isEmpty());
    m_line->style()->unpolish(m_line);
    m_line->style()->polish(m_line);
}

void ValueField::commit()
{
    if (!m_line->isModified())
        return;
    const QString text = m_line->text();
    std::optional<double> value;
    if (!text.trimmed().isEmpty()) {
        QString message;
        value = read(text, message);
        if (!value)
            return complain(message); // what was typed stays
    }
    if (m_spec.wrong) {
        Job tried = m_session.job();
        m_spec.set(tried, value);
        if (const QString message = m_spec.wrong(tried); !message.isEmpty())
            return complain(message);
    }
    complain({});
    m_line->setModified(false);
    m_session.edit(m_spec.label, [&](Job& job) { m_spec.set(job, value); });
}

void ValueField::show()
{
    if (m_line->isModified())
        return;
    const auto value = m_spec.get(m_session.job());
    if (const QString text = value ? write(*value) : QString(); text != m_line->text())
        m_line->setText(text);
    complain({});
}

void addValueRow(QFormLayout& form, ValueSpec spec, JobSession& session)
{
    const QString label = spec.label;
    form.addRow(label, new ValueField(std::move(spec), session));
}

TextField::TextField(const QString& what, const std::function<std::string(const Job&)>& get,
                     std::function<void(Job&, std::string)> set, JobSession& session, QWidget* parent)
    : QLineEdit(parent)
{
    setAccessibleName(what);
    setObjectName(what);
    setMaxLength(900);
    const auto show = [this, get, &session] {
        if (isModified())
            return;
        if (const QString now = qs(get(session.job())); now != text()) {
            setText(now);
            setCursorPosition(0);
        }
    };
    connect(this, &QLineEdit::editingFinished, this, [this, what, set, &session] {
        if (!isModified())
            return;
        setModified(false);
        const std::string typed = text().trimmed().toStdString();
        session.edit(what, [&](Job& job) { set(job, typed); });
    });
    connect(&session, &JobSession::changed, this, show);
    show();
}

ChoiceField::ChoiceField(const QString& what, const QStringList& choices,
                         const std::function<int(const Job&)>& get, const std::function<void(Job&, int)>& set,
                         JobSession& session, QWidget* parent)
    : QComboBox(parent)
{
    setAccessibleName(what);
    setObjectName(what);
    addItems(choices);
    constexpr int enough = 12; // a long entry shows in the list, and does not widen the page
    setSizeAdjustPolicy(AdjustToMinimumContentsLengthWithIcon);
    setMinimumContentsLength(enough);
    connect(this, &QComboBox::activated, this,
            [what, set, &session](int at) { session.edit(what, [&](Job& job) { set(job, at); }); });
    const auto show = [this, get, &session] { setCurrentIndex(get(session.job())); };
    connect(&session, &JobSession::changed, this, show);
    show();
}

TickField::TickField(const QString& what, const std::function<bool(const Job&)>& get,
                     const std::function<void(Job&, bool)>& set, JobSession& session, QWidget* parent)
    : QCheckBox(what, parent)
{
    setAccessibleName(what);
    setObjectName(what);
    connect(this, &QCheckBox::clicked, this,
            [what, set, &session](bool on) { session.edit(what, [&](Job& job) { set(job, on); }); });
    const auto show = [this, get, &session] { setChecked(get(session.job())); };
    connect(&session, &JobSession::changed, this, show);
    show();
}

namespace {

std::optional<LegReading> readBandWords(const QString& text)
{
    const QStringList words = text.toLower().split(QRegularExpression(u"[\\s,-]+"_s), Qt::SkipEmptyParts);
    MarkingReadInput in{.kind = MarkingKind::Bands, .bands = {}, .text = {}};
    for (const QString& word : words) {
        const auto colour = enumFrom<Colour>(word.toStdString());
        if (!colour)
            return std::nullopt;
        in.bands.push_back(*colour);
    }
    if (in.bands.size() < 3 || in.bands.size() > 6)
        return LegReading{std::nullopt, ValueField::tr("3 to 6 bands make a resistor")};
    try {
        const auto result = markingRead(in);
        QString message = ValueField::tr("bands: %1, %2")
                              .arg(qs(formatOhms(result.value)), qs(formatPercent(*result.tolerance)));
        if (result.reversed)
            message += ValueField::tr(", read from the other end");
        for (const auto& other : result.alternatives)
            message += ValueField::tr("; or %1 from the other end").arg(qs(formatOhms(other.value)));
        return LegReading{Network(result.value), message};
    } catch (const DocumentError& error) {
        return LegReading{std::nullopt, QString::fromUtf8(error.what())};
    }
}

} // namespace

LegReading readLeg(const QString& text)
{
    if (const auto bands = readBandWords(text);
        bands && text.contains(QRegularExpression(u"[a-z]{3,}"_s, QRegularExpression::CaseInsensitiveOption)))
        return *bands;
    if (text.startsWith(u"smd "_s, Qt::CaseInsensitive)) {
        try {
            const auto result = markingRead(
                {.kind = MarkingKind::Smd, .bands = {}, .text = text.mid(4).trimmed().toStdString()});
            QString message = ValueField::tr("chip: %1").arg(qs(formatOhms(result.value)));
            for (const auto& other : result.alternatives)
                message += ValueField::tr("; or %1").arg(qs(formatOhms(other.value)));
            if (result.value > 0)
                return {Network(result.value), message};
            return {std::nullopt, ValueField::tr("a link of 0 Ω is no leg")};
        } catch (const DocumentError& error) {
            return {std::nullopt, QString::fromUtf8(error.what())};
        }
    }
    const auto parsed = parseNetwork(text.toStdString());
    if (!parsed)
        return {std::nullopt, qs(parsed.problem().message)};
    if (!(parsed->ohm() > 0))
        return {std::nullopt, ValueField::tr("a leg of 0 Ω has no divider")};
    return {*parsed, parsed->parts().size() > 1 ? qs(formatOhms(parsed->ohm())) : QString()};
}

} // namespace offshoot::ui
