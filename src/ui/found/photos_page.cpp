#include "ui/found/photos_page.h"

#include "ui/paint/marks.h"
#include "ui/photos.h"
#include "ui/plan/workspace_page.h"

#include <QCompleter>
#include <QDir>
#include <QFileDialog>
#include <QFileInfo>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QMouseEvent>
#include <QPainter>
#include <QPushButton>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>

namespace offshoot::ui {

using namespace Qt::StringLiterals;

namespace {

constexpr int move_key = 73;

/// What a pin may well be the name of.
QStringList nameable(const Job& job)
{
    QStringList names;
    for (const Wire& wire : job.found.wires)
        names << qs(wire.name);
    for (const Rail& rail : job.found.rails)
        names << qs(rail.capacitor.name);
    if (job.plan.replace)
        for (const ReplacingUnit& unit : job.plan.replace->units)
            names << qs(unit.entry.unit.name);
    names.removeAll(QString());
    names.removeDuplicates();
    return names;
}

} // namespace

PinPicture::PinPicture(Look& look, QWidget* parent)
    : QWidget(parent)
    , m_look(look)
{
    setObjectName(u"pinPicture"_s);
    setAccessibleName(tr("The photograph with its pins"));
    setFocusPolicy(Qt::StrongFocus);
    sizedWith(*this, look, [this, &look] { setMinimumSize(look.px(300), look.px(200)); });
}

void PinPicture::show(const QImage& image, const std::vector<PhotoPin>& pins, const QString& sentence)
{
    m_image = image;
    m_pins = pins;
    m_sentence = sentence;
    if (m_current && *m_current >= m_pins.size())
        m_current.reset();
    setAccessibleDescription(sentence);
    update();
}

void PinPicture::setCurrent(std::optional<std::size_t> pin)
{
    m_current = pin;
    update();
    Q_EMIT currentChanged();
}

QRectF PinPicture::shown() const
{
    const QSizeF size = QSizeF(m_image.size()).scaled(this->size(), Qt::KeepAspectRatio);
    return {QPointF((width() - size.width()) / 2, (height() - size.height()) / 2), size};
}

QPointF PinPicture::at(const PhotoPin& pin) const
{
    const QRectF box = shown();
    return box.topLeft() + QPointF(pin.x * box.width(), pin.y * box.height());
}

void PinPicture::paintEvent(QPaintEvent* /*event*/)
{
    QPainter painter(this);
    painter.setRenderHints(QPainter::Antialiasing | QPainter::SmoothPixmapTransform);
    if (m_image.isNull())
        return paintSentence(painter, rect(), m_sentence, m_look);
    painter.drawImage(shown(), m_image);
    const double size = m_look.px(9);
    for (std::size_t i = 0; i < m_pins.size(); ++i) {
        const QPointF place = at(m_pins[i]);
        paintPin(painter, place, static_cast<int>(i) + 1, size, i == m_current);
        const QString name = qs(m_pins[i].name);
        if (name.isEmpty())
            continue;
        const QFontMetricsF metrics(m_look.font(13, true));
        QRectF box(place.x() - metrics.horizontalAdvance(name) / 2 - 3, place.y() + size + 2,
                   metrics.horizontalAdvance(name) + 6, m_look.px(17));
        box.moveLeft(std::clamp(box.left(), 0.0, std::max(0.0, width() - box.width())));
        painter.fillRect(box, m_look.colours().sheet);
        paintText(painter, box, name, m_look.font(13, true), m_look.colours().ink, Qt::AlignCenter);
    }
    if (hasFocus()) {
        painter.setPen(QPen(m_look.colours().planned, 1, Qt::DotLine));
        painter.setBrush(Qt::NoBrush);
        painter.drawRect(rect().adjusted(0, 0, -1, -1));
    }
}

void PinPicture::keyPressEvent(QKeyEvent* event)
{
    if (m_image.isNull())
        return QWidget::keyPressEvent(event);
    constexpr double small = 0.005;
    constexpr double large = 0.05;
    const double by = (event->modifiers() & Qt::ShiftModifier) != 0 ? large : small;
    const auto move = [&](double dx, double dy) {
        if (!m_current)
            return;
        const PhotoPin& pin = m_pins[*m_current];
        Q_EMIT moved(*m_current, std::clamp(pin.x + dx, 0.0, 1.0), std::clamp(pin.y + dy, 0.0, 1.0), true);
    };
    const auto walk = [&](std::size_t step) {
        if (!m_pins.empty())
            setCurrent(m_current ? (*m_current + step) % m_pins.size() : 0);
    };
    switch (event->key()) {
    case Qt::Key_Left:
        return move(-by, 0);
    case Qt::Key_Right:
        return move(by, 0);
    case Qt::Key_Up:
        return move(0, -by);
    case Qt::Key_Down:
        return move(0, by);
    case Qt::Key_N:
        return walk(1);
    case Qt::Key_P:
        return walk(m_pins.empty() ? 0 : m_pins.size() - 1);
    case Qt::Key_Insert:
        return Q_EMIT placed(0.5, 0.5);
    case Qt::Key_Delete:
        if (m_current)
            Q_EMIT removed(*m_current);
        return;
    default:
        QWidget::keyPressEvent(event);
    }
}

void PinPicture::mousePressEvent(QMouseEvent* event)
{
    setFocus(Qt::MouseFocusReason);
    const QRectF box = shown();
    if (m_image.isNull() || !box.contains(event->position()))
        return;
    const double reach = m_look.px(14);
    for (std::size_t i = 0; i < m_pins.size(); ++i)
        if (std::hypot(at(m_pins[i]).x() - event->position().x(), at(m_pins[i]).y() - event->position().y()) <
            reach) {
            m_held = true;
            return setCurrent(i);
        }
    const QPointF place = event->position() - box.topLeft();
    Q_EMIT placed(place.x() / box.width(), place.y() / box.height());
}

void PinPicture::mouseReleaseEvent(QMouseEvent* event)
{
    if (!m_held || !m_current)
        return;
    m_held = false;
    const QRectF box = shown();
    const QPointF place = event->position() - box.topLeft();
    const PhotoPin& pin = m_pins[*m_current];
    const double x = std::clamp(place.x() / box.width(), 0.0, 1.0);
    const double y = std::clamp(place.y() / box.height(), 0.0, 1.0);
    constexpr double still = 0.01; // a click moves nothing
    if (std::hypot(x - pin.x, y - pin.y) > still)
        Q_EMIT moved(*m_current, x, y, false);
}

PhotosPage::PhotosPage(JobSession& session, Look& look, QWidget* parent)
    : QWidget(parent)
    , m_session(session)
    , m_list(new QListWidget)
    , m_picture(new PinPicture(look))
    , m_name(new QLineEdit)
    , m_said(caption(tr("click a place, or Insert: a pin · N P walk, arrows move, Delete · its name below")))
{
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(0, look.px(8), 0, 0);
    auto* left = new QVBoxLayout;
    auto* add = new QPushButton(tr("Add a photograph…"));
    connect(add, &QPushButton::clicked, this, &PhotosPage::addPhoto);
    left->addWidget(add);
    m_list->setAccessibleName(tr("Photographs"));
    m_list->setObjectName(u"photoList"_s);
    sizedWith(*m_list, look, [this, &look] { m_list->setMaximumWidth(look.px(220)); });
    left->addWidget(m_list, 1);
    row->addLayout(left);
    auto* right = new QVBoxLayout;
    right->addWidget(m_picture, 1);
    right->addWidget(m_said);
    m_name->setAccessibleName(tr("What the pin names"));
    m_name->setObjectName(u"pinName"_s);
    m_name->setPlaceholderText(tr("W4, or the part that is seen there"));
    right->addWidget(m_name);
    row->addLayout(right, 1);
    connect(m_list, &QListWidget::currentRowChanged, this, [this] {
        m_picture->setCurrent({});
        showPhoto();
    });
    connect(m_name, &QLineEdit::editingFinished, this, &PhotosPage::rename);
    connect(m_picture, &PinPicture::currentChanged, this, &PhotosPage::showName);
    connect(m_picture, &PinPicture::placed, this, [this](double x, double y) {
        const std::string on = photo();
        m_session.edit(tr("a pin"), [&](Job& job) { job.pins.push_back({.photo = on, .x = x, .y = y}); });
        m_picture->setCurrent(pinsOn(m_session.job(), on).size() - 1);
        m_name->setFocus();
    });
    connect(m_picture, &PinPicture::moved, this, [this](std::size_t pin, double x, double y, bool by_key) {
        m_session.edit(
            tr("a pin moved"),
            [&, at = inJob(pin)](Job& job) {
                job.pins.at(at).x = x;
                job.pins.at(at).y = y;
            },
            by_key ? move_key : -1);
    });
    connect(m_picture, &PinPicture::removed, this, [this](std::size_t pin) {
        m_session.edit(tr("a pin removed"), [at = inJob(pin)](Job& job) {
            job.pins.erase(job.pins.begin() + static_cast<std::ptrdiff_t>(at));
        });
    });
    connect(&session, &JobSession::changed, this, [this] {
        if (isVisible())
            refresh();
    });
}

void PhotosPage::showEvent(QShowEvent* event)
{
    QWidget::showEvent(event);
    refresh();
}

std::string PhotosPage::photo() const
{
    const auto all = photosOf(m_session.job());
    const auto at = static_cast<std::size_t>(std::max(0, m_list->currentRow()));
    return at < all.size() ? all[at] : std::string();
}

std::size_t PhotosPage::inJob(std::size_t pin) const
{
    const std::string on = photo();
    const auto& pins = m_session.job().pins;
    for (std::size_t i = 0; i < pins.size(); ++i)
        if (pins[i].photo == on && pin-- == 0)
            return i;
    return pins.size();
}

void PhotosPage::refresh()
{
    const auto all = photosOf(m_session.job());
    QStringList names;
    for (const std::string& name : all)
        names << QFileInfo(qs(name)).fileName();
    QStringList shown;
    for (int i = 0; i < m_list->count(); ++i)
        shown << m_list->item(i)->text();
    if (shown != names) {
        const QSignalBlocker quiet(m_list);
        const int row = m_list->currentRow();
        m_list->clear();
        m_list->addItems(names);
        m_list->setCurrentRow(names.isEmpty() ? -1 : std::clamp(row, 0, static_cast<int>(names.size()) - 1));
    }
    auto* completer = new QCompleter(nameable(m_session.job()), m_name);
    completer->setCaseSensitivity(Qt::CaseInsensitive);
    completer->setCompletionMode(QCompleter::InlineCompletion); // a list in the way takes the next Tab
    m_name->setCompleter(completer);
    showPhoto();
}

/// A photograph that is gone leaves its name and its pins.
void PhotosPage::showPhoto()
{
    const std::string on = photo();
    const auto pins = pinsOn(m_session.job(), on);
    const QString folder = QFileInfo(m_session.store().path()).path();
    const QImage image(QDir(folder).absoluteFilePath(qs(on)));
    QString sentence =
        on.empty() ? tr("No photograph yet: add one, or type: photo PATH.") : tr("%1 is gone.").arg(qs(on));
    for (const PhotoPin& pin : pins)
        sentence += u" "_s + qs(pin.name);
    m_picture->show(on.empty() ? QImage() : image, pins, sentence);
    showName();
}

void PhotosPage::showName()
{
    const auto pins = pinsOn(m_session.job(), photo());
    const auto current = m_picture->current();
    m_name->setEnabled(current && *current < pins.size());
    m_name->setText(m_name->isEnabled() ? qs(pins[*current].name) : QString());
}

void PhotosPage::rename()
{
    const auto current = m_picture->current();
    if (!current)
        return;
    const std::size_t at = inJob(*current);
    const std::string name = m_name->text().trimmed().toStdString();
    if (at < m_session.job().pins.size() && m_session.job().pins[at].name != name)
        m_session.edit(tr("a pin named"), [&](Job& job) { job.pins.at(at).name = name; });
}

void PhotosPage::addPhoto()
{
    const QString path = QFileDialog::getOpenFileName(this, tr("Add a photograph"), {},
                                                      tr("Pictures (*.jpg *.jpeg *.png *.webp *.bmp)"));
    if (path.isEmpty())
        return;
    const LogLine line = readLogLine(u"photo %1"_s.arg(path).toStdString(), m_session.job(),
                                     m_session.evaluation(), m_session.lastPoint());
    if (line.entry)
        m_session.log(*line.entry);
}

} // namespace offshoot::ui
