// Rectifier and smoothing: the stretch of the power path behind the rectifier as a ribbon with its parts on
// it, edited in place; the waveforms of the chosen part, figures and limits following every edit, the
// dropping resistor, as found behind as planned.
#pragma once

#include "core/kinds/chain/chain_view.h"
#include "ui/plan/workspace_page.h"
#include "ui/rectifier/chain_pictures.h"
#include "ui/rectifier/dropper_tab.h"
#include "ui/rectifier/ribbon_picture.h"
#include "ui/rectifier_run.h"

class QFormLayout;
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
    void rebuildFields();
    QWidget* partTab();
    QWidget* figuresTab();
    QWidget* pictureSide();
    QLayout* tools();
    void followRibbon();
    void choose(int part);
    void showRibbon();
    void showWaves();
    struct ChainField
    {
        QString label;
        Quantity quantity;
        std::function<std::optional<double>(const RectifierChain&)> get;
        std::function<void(RectifierChain&, std::optional<double>)> set;
        QString hint;
        bool zero = false;
        bool percent = false;
    };
    using SectionAt = std::function<SmoothingSection*(RectifierChain&)>;
    void addField(const ChainField& field);
    void sectionField(const QString& label, Quantity quantity, const SectionAt& at,
                      double SmoothingSection::*member, const QString& hint, bool zero);
    void toleranceField(const QString& label, const SectionAt& at);
    void bearsField(const QString& label, Quantity quantity, const SectionAt& at,
                    std::optional<double> SmoothingSection::*member, const QString& hint);
    /// `which` of several, or empty.
    void capacitorFields(const QString& which, const SectionAt& at);
    void addChoice(const QString& label, const QStringList& words, int current,
                   const std::function<void(RectifierChain&, int)>& set);
    void sourceFields(const RectifierChain& chain);
    void rectifierFields(const RectifierChain& chain);
    void sectionFields(const RectifierChain& chain, std::size_t section);
    void tapFields(const RectifierChain& chain, std::size_t section);
    const ChainRun* shownRun() const { return m_shown ? &*m_shown : nullptr; }
    void loadFields(const RectifierChain& chain);
    std::optional<std::size_t> chosenSection() const;
    /// Changes the planned chain where what results is a chain; otherwise says what is wrong, and false.
    bool edit(const QString& what, const std::function<void(RectifierChain&)>& change);
    void startChain(SimRectifier kind);
    QString figuresHtml() const;

    RibbonPicture* m_ribbon;
    WavePicture* m_waves;
    QVBoxLayout* m_fields;
    QFormLayout* m_form;
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
    std::optional<ChainSpread> m_spread;       ///< stays until the next one comes in
    std::optional<RectifierChain> m_spreadOf;  ///< what the latest was started for
    std::optional<RectifierChain> m_spreadFor; ///< and what came in is of
    std::vector<ChainPart> m_parts;            ///< as shown last
    double m_share = 0;                        ///< of the run under way
    int m_fieldsOf = -1;
    std::string m_fieldsShape; ///< kinds the fields were made for
};

} // namespace offshoot::ui
