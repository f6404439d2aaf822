// Fit: the planned unit in the case, moved by hand or put where it goes best; the case as measured; drill
// template and adapter plate.
#pragma once

#include "core/kinds/replace/templates.h"
#include "core/kinds/replace/wanted.h"
#include "ui/fit/fit_picture.h"
#include "ui/plan/workspace_page.h"

#include <functional>
#include <vector>

class QComboBox;
class QLabel;
class QPushButton;

namespace offshoot::ui {

class FitPage : public WorkspacePage
{
    Q_OBJECT

public:
    FitPage(JobSession& session, Look& look, QWidget* parent = nullptr);
    /// As SVG or PDF by its ending; says what is wrong where it cannot.
    bool exportSheets(const TemplateSheets& sheets, const QString& path, const QString& title);

private:
    void refresh() override;
    void show(const FitView& view);
    QWidget* tools();
    QWidget* sheets();
    QPushButton* button(const QString& text, const std::function<void()>& act);
    std::size_t current() const; ///< the unit that is moved
    void place(const QString& what, const PlacedAt& at, int mergeKey = -1);
    void moveTo(double x_m, double y_m);
    void nudge(double dx_m, double dy_m);
    void turn();
    void best();
    void otherSide();
    void saveSheets(const QString& title, TemplateSheets (*make)(const Job&, std::size_t));
    void say(const QString& text);
    QString detailsHtml() const;

    FitView m_view;
    FitPicture* m_picture;
    QComboBox* m_unit; ///< which of two is moved
    QLabel* m_judged;
    QLabel* m_said;
    QPushButton* m_side = nullptr;
    std::vector<QPushButton*> m_buttons;
};

} // namespace offshoot::ui
