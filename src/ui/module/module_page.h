// Module: what the source gives from trough to crest, before and after, against what the module takes; the
// modules of the shelf on this source; what the source is, as read.
#pragma once

#include "core/kinds/module/module_view.h"
#include "ui/choose/own_shelf.h"
#include "ui/plan/workspace_page.h"

class QLabel;
class QPushButton;

namespace offshoot::ui {

class OptionList;

/// Volts from left to right: the band of the source, the input of the module, its output; the heat below.
class SourcePicture : public QWidget
{
    Q_OBJECT

public:
    SourcePicture(Look& look, QWidget* parent = nullptr);
    void show(const std::optional<RegulatorReplaceInput>& input,
              const std::optional<RegulatorReplaceResult>& result, const QString& sentence);

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    double at(double v) const;
    void paintBand(QPainter& painter, double y, const QString& name, const RegulatorPoint& point,
                   const QColor& colour, bool bold) const;
    void paintModule(QPainter& painter, double y) const;

    Look& m_look;
    std::optional<RegulatorReplaceInput> m_input;
    std::optional<RegulatorReplaceResult> m_result;
    double m_most_v = 1;
};

class ModulePage : public WorkspacePage
{
    Q_OBJECT

public:
    ModulePage(JobSession& session, Look& look, QWidget* parent = nullptr);

private:
    void refresh() override;
    void showDetails();
    void take(int row);
    QWidget* side();
    void paintOption(QPainter& painter, const QRectF& box, int row) const;
    QString optionText(int row) const;
    QString optionHtml(const ModuleOption& option) const;

    OwnShelf m_shelf;
    ModuleView m_view;
    SourcePicture* m_picture;
    OptionList* m_options;
    QLabel* m_details;
    QPushButton* m_take;
};

} // namespace offshoot::ui
