// Rectifier and smoothing: the chain as a strip edited in place, waveforms and figures following every edit,
// the limits as bars, the dropping resistor, before and after overlaid.
#pragma once

#include "core/job/chain.h"
#include "ui/plan/workspace_page.h"
#include "ui/rectifier_run.h"

class QFormLayout;
class QLabel;
class QLayout;
class QLineEdit;
class QPushButton;

namespace offshoot::ui {

class OptionList;

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

/// How much of their limits rectifier and capacitors use.
class LimitBars : public QWidget
{
    Q_OBJECT

public:
    LimitBars(Look& look, QWidget* parent = nullptr);
    void show(std::vector<ConsequenceRow> rows);
    QSize sizeHint() const override;

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    Look& m_look;
    std::vector<ConsequenceRow> m_rows;
};

/// The dropping resistor for a wanted voltage: sought by simulation, then made of parts from the drawer.
class DropperTab : public QWidget
{
    Q_OBJECT

public:
    DropperTab(JobSession& session, Look& look, QWidget* parent = nullptr);
    /// `section` is the part chosen in the strip; the first resistor of the chain where that is none.
    void follow(std::optional<std::size_t> section);
    OptionList& options() { return *m_options; }
    void apply(Job& job, int row) const;

private:
    void seek();
    void arrived(const DropperResult& result);
    void paintChoice(QPainter& painter, const QRectF& box, int row) const;
    QString choiceText(int row) const;

    JobSession& m_session;
    Look& m_look;
    QLineEdit* m_volts;
    QLabel* m_answer;
    OptionList* m_options;
    RectifierRun m_run;
    std::optional<std::size_t> m_place;
    std::optional<DropperInput> m_sought; ///< its chain without the resistor's own value
    std::vector<DropperChoice> m_choices;
};

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
    std::optional<std::size_t> chosenSection() const;
    /// Changes the planned chain where what results is a chain; says what is wrong otherwise.
    void edit(const QString& what, const std::function<void(RectifierChain&)>& change);
    void startChain(SimRectifier kind);
    QString figuresHtml() const;

    ChainStrip* m_strip;
    WavePicture* m_waves;
    QWidget* m_fields;
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
