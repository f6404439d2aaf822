// Evidence: every mains-side part as a bar over the mains voltages it permits, label and papers on the same
// axis, the wanted mains with its spread as a band.
#pragma once

#include "core/evaluate/evidence_view.h"
#include "ui/plan/workspace_page.h"

class QLabel;

namespace offshoot::ui {

class EvidencePicture : public QWidget
{
    Q_OBJECT

public:
    EvidencePicture(Look& look, QWidget* parent = nullptr);
    /// Without a mains that somebody gave there is none to draw.
    void show(const EvidenceView& view, bool mainsGiven);
    QSize sizeHint() const override;

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    void paintClue(QPainter& painter, std::size_t at, double top, double high) const;
    double x(double volts, double high) const;

    Look& m_look;
    EvidenceView m_view{};
    bool m_mainsGiven = true;
};

class EvidencePage : public WorkspacePage
{
    Q_OBJECT

public:
    EvidencePage(JobSession& session, Look& look, QWidget* parent = nullptr);

private:
    void refresh() override;

    EvidenceView m_view{};
    EvidencePicture* m_picture;
    QLabel* m_notes;
};

} // namespace offshoot::ui
