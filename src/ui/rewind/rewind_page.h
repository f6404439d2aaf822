// Rewind: the windings as layers of turns, whole-turn options with the auxiliary supply's window drawn,
// against the divider alone.
#pragma once

#include "core/kinds/rewind/rewind_view.h"
#include "ui/plan/workspace_page.h"

#include <QWidget>

class QLabel;

namespace offshoot::ui {

class OptionList;

class WindingPicture : public QWidget
{
    Q_OBJECT

public:
    WindingPicture(Look& look, QWidget* parent = nullptr);
    void show(const RewindView& view, const QString& rail, std::optional<std::int64_t> turns);

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    struct Winding
    {
        QString name;
        std::int64_t turns;
        QColor colour;
        bool filled;
    };
    double paintWinding(QPainter& painter, const QRectF& box, const Winding& winding) const;

    Look& m_look;
    RewindView m_view;
    QString m_rail;
    std::optional<std::int64_t> m_turns;
};

class RewindPage : public WorkspacePage
{
    Q_OBJECT

public:
    RewindPage(JobSession& session, Look& look, QWidget* parent = nullptr);

private:
    void refresh() override;
    QWidget* turnsFields();
    void paintOption(QPainter& painter, const QRectF& box, int row) const;
    QString optionText(int row) const;
    void apply(Job& job, int row) const;

    RewindView m_view;
    WindingPicture* m_picture;
    OptionList* m_options;
    QLabel* m_school;
};

} // namespace offshoot::ui
