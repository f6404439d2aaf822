// Need: what the load wants. A ruler of the window, presets that say why, and exact entry beside them.
#pragma once

#include "ui/look.h"
#include "ui/session.h"

#include <QWidget>

class QComboBox;
class QFormLayout;
class QLabel;

namespace offshoot::ui {

/// The window of the need on a voltage scale, with the found voltage beside it.
class WindowRuler : public QWidget
{
    Q_OBJECT

public:
    WindowRuler(JobSession& session, Look& look, QWidget* parent = nullptr);
    QSize sizeHint() const override;

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    JobSession& m_session;
    Look& m_look;
};

class NeedPage : public QWidget
{
    Q_OBJECT

public:
    NeedPage(JobSession& session, Look& look, QWidget* parent = nullptr);

private:
    QWidget* askFirst(QWidget* form);
    QLabel* nextLine();
    QWidget* windowAndMains();
    void addMains(QFormLayout* form);
    QWidget* presets();
    QWidget* batteryForm();
    QWidget* batteryRow();
    QWidget* equipmentRow();
    QWidget* benchRow();

    JobSession& m_session;
    Look& m_look;
};

} // namespace offshoot::ui
