// Rectifier and smoothing: the chain as a strip edited in place, waveforms and figures following every edit,
// the limits as bars, the dropping resistor, before and after overlaid.
#pragma once

#include "core/job/mains_views.h"
#include "ui/plan/workspace_page.h"
#include "ui/rectifier/rectifier_run.h"

class QComboBox;
class QFormLayout;
class QLabel;
class QPushButton;
class QStackedWidget;
class QVBoxLayout;

namespace offshoot::ui {

/// The parts in their order; one is chosen by click or arrow keys.
class ChainStrip : public QWidget
{
    Q_OBJECT

public:
    ChainStrip(Look& look, QWidget* parent = nullptr);
    void show(const RectifierChain* chain, int chosen);
    int chosen() const { return m_chosen; }

Q_SIGNALS:
    /// 0 source, 1 rectifier, 2 and on the sections, last the load.
    void chose(int part);

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    int count() const;
    QRectF box(int part) const;
    QString name(int part) const;
    QString value(int part) const;
    void paintPart(QPainter& painter, int part) const;

    Look& m_look;
    std::optional<RectifierChain> m_chain;
    int m_chosen = 0;
};

class WavePicture : public QWidget
{
    Q_OBJECT

public:
    WavePicture(Look& look, QWidget* parent = nullptr);
    void show(const std::optional<SteadyResult>& result, const std::optional<SteadyResult>& before,
              bool running, double share);

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    Look& m_look;
    std::optional<SteadyResult> m_result;
    std::optional<SteadyResult> m_before;
    bool m_running = false;
    double m_share = 0;
};

class RectifierPage : public WorkspacePage
{
    Q_OBJECT

public:
    RectifierPage(JobSession& session, Look& look, QWidget* parent = nullptr);
    /// Whether every figure shown belongs to the job as it is.
    bool settled() const { return !m_run.running(); }

private:
    void refresh() override;
    void run();
    void arrived(const RectifierResult& result);
    void rebuildFields();
    QWidget* tools();
    void addField(const QString& label, Quantity quantity,
                  const std::function<std::optional<double>(const RectifierChain&)>& get,
                  const std::function<void(RectifierChain&, std::optional<double>)>& set, const QString& hint,
                  bool plain = false, bool zero = false);
    void addChoice(const QString& label, const QStringList& words, int current,
                   const std::function<void(RectifierChain&, int)>& set);
    void sourceFields(const RectifierChain& chain);
    void rectifierFields(const RectifierChain& chain);
    void sectionFields(const RectifierChain& chain, std::size_t section);
    void loadFields(const RectifierChain& chain);
    /// Changes the planned chain where what results is a chain; says what is wrong otherwise.
    void edit(const QString& what, const std::function<void(RectifierChain&)>& change);
    void startChain(SimRectifier kind);
    QString figuresHtml() const;

    ChainStrip* m_strip;
    WavePicture* m_waves;
    QWidget* m_fields;
    QFormLayout* m_form;
    QLabel* m_problem;
    QLabel* m_figures;
    QStackedWidget* m_stack;
    RectifierRun m_run;
    RectifierRun m_runBefore;
    RectifierRun m_runDropper;
    std::optional<RectifierInput> m_shown; ///< what the figures were computed for
    std::optional<RectifierChain> m_shownBefore;
    std::optional<SteadyResult> m_result;
    std::optional<SteadyResult> m_before;
    int m_fieldsOf = -1;
    std::string m_fieldsShape; ///< kinds the fields were made for
};

} // namespace offshoot::ui
