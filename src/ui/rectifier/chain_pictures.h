// What stands beside the rectifier's ribbon: the waveforms at one part, the limits as bars.
#pragma once

#include "core/kinds/chain/chain_ribbon.h"
#include "ui/look.h"

#include <QWidget>

namespace offshoot::ui {

/// Kinds of rectifier in the words of the window, in the order of SimRectifier.
const QStringList& rectifierNames();

class WavePicture : public QWidget
{
    Q_OBJECT

public:
    WavePicture(Look& look, QWidget* parent = nullptr);
    /// Of the part named so in the results, which people call `title`; `before` where the chain as found has
    /// a part of that name too.
    void show(const SteadyResult* result, const SteadyResult* before, const std::string& part,
              const QString& title);

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    Look& m_look;
    struct Traced
    {
        std::vector<double> t_ms;
        SimTrace trace;
    };
    static std::optional<Traced> traced(const SteadyResult* result, const std::string& part);

    std::optional<Traced> m_planned;
    std::optional<Traced> m_found;
    QString m_title;
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

} // namespace offshoot::ui
