// Rectifier and smoothing: the chain as a strip edited in place, waveforms and figures following every edit,
// the limits as bars, the dropping resistor, before and after overlaid.
#pragma once

#include "core/kinds/chain/chain_view.h"
#include "ui/plan/workspace_page.h"
#include "ui/rectifier/chain_pictures.h"
#include "ui/rectifier/dropper_tab.h"
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

private:
    void refresh() override;
    void compare();
    void rebuildFields();
    QWidget* partTab();
    QWidget* figuresTab();
    QLayout* tools();
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

    ChainStrip* m_strip;
    WavePicture* m_waves;
    QVBoxLayout* m_fields;
    QFormLayout* m_form;
    QLabel* m_problem;
    QPushButton* m_stop;
    LimitBars* m_bars;
    QLabel* m_figures;
    DropperTab* m_dropper;
    RectifierRun m_runBefore;
    std::optional<ChainRun> m_shown; ///< stays until the next one comes in
    std::optional<RectifierChain> m_shownBefore;
    std::optional<SteadyResult> m_before;
    int m_fieldsOf = -1;
    std::string m_fieldsShape; ///< kinds the fields were made for
};

} // namespace offshoot::ui
