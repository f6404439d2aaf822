// Two meters at once: what either reads, and the amperes behind a reading of volts.
#pragma once

#include "bench/meter_link.h"

#include <array>

namespace offshoot::bench {

class Meters : public QObject
{
    Q_OBJECT

public:
    explicit Meters(QObject* parent = nullptr);
    MeterLink& link(std::size_t which) { return m_links.at(which); }
    const MeterLink& link(std::size_t which) const { return m_links.at(which); }
    static constexpr std::size_t count = 2;
    bool attached() const;
    /// What is read of this quantity; the first meter's where both read it.
    std::optional<MeterReading> of(Quantity quantity) const;
    /// What is read by the first meter that reads anything.
    std::optional<MeterReading> any() const;
    /// The amperes that one reads while the other reads volts, in magnitude.
    std::optional<double> loadA() const;
    /// The same as the log line takes it behind a reading: " @2.1A"; empty where there is none.
    QString behind() const;

Q_SIGNALS:
    void changed();
    void said(const QString& text);

private:
    std::array<MeterLink, count> m_links;
};

} // namespace offshoot::bench
