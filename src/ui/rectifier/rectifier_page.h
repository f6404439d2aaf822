// Rectifier and smoothing: the stretch of the power path behind the rectifier as a ribbon with its parts on
// it, edited in place; the waveforms of the chosen part, figures and limits following every edit, the
// dropping resistor, as found behind as planned.
#pragma once

#include "core/kinds/chain/chain_view.h"
#include "ui/plan/workspace_page.h"
#include "ui/rectifier/chain_pictures.h"
#include "ui/rectifier/dropper_tab.h"
#include "ui/rectifier/part_form.h"
#include "ui/rectifier/ribbon_picture.h"
#include "ui/rectifier_run.h"

class QLabel;
class QLayout;
class QPushButton;

namespace offshoot::ui {

class RectifierPage : public WorkspacePage
{
    Q_OBJECT

public:
    RectifierPage(JobSession& session, Look& look, QWidget* parent = nullptr);
    /// Tolerances or the chain as found are still being worked out.
    bool working() const { return m_runSpread.running() || m_runBefore.running(); }

private:
    void refresh() override;
    void compare();
    QWidget* partTab();
    QWidget* figuresTab();
    QWidget* pictureSide();
    QWidget* startSide();
    QWidget* tools();
    void followRibbon();
    void choose(int part);
    void showRibbon();
    void showWaves();
    std::optional<std::size_t> chosenSection() const;
    /// Changes the planned chain where what results is a chain; otherwise says what is wrong, and false.
    bool edit(const QString& what, const std::function<void(RectifierChain&)>& change);
    void startChain(SimRectifier kind);
    QString figuresHtml() const;

    RibbonPicture* m_ribbon;
    WavePicture* m_waves;
    PartForm* m_form;
    QLabel* m_problem;
    QPushButton* m_stop;
    LimitBars* m_bars;
    QLabel* m_figures;
    DropperTab* m_dropper;
    RectifierRun m_runBefore;
    RectifierRun m_runSpread;
    std::optional<ChainRun> m_shown; ///< stays until the next one comes in
    std::optional<RectifierChain> m_shownBefore;
    std::optional<SteadyResult> m_before;
    std::optional<ChainSpread> m_spread;        ///< stays until the next one comes in
    std::optional<RectifierChain> m_spreadOf;   ///< the chain it is of
    std::optional<RectifierChain> m_spreadFrom; ///< what the latest was started for
    ChainRibbon m_ribbonShown;                  ///< as shown last
    double m_share = 0;                         ///< of the run under way
};

} // namespace offshoot::ui
