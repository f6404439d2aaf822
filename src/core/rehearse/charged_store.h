// A reservoir as it behaves on the bench: a capacitor whose dielectric keeps a share of its charge and gives
// it back. Two exponentials, advanced in closed form: exact for any length of time.
#pragma once

namespace offshoot {

/// The plates with C, and beside them a slow branch: C·k/(1 − k) behind a resistance, with which a soaked and
/// then emptied capacitor comes back to k of its voltage (the model of Dow 1958 with one branch; k as
/// `recoveryShare`, 0 to below 1). Volts in magnitude.
class ChargedStore
{
public:
    /// `c_f` above 0. Soaked: it is taken to have stood long at what it is first held at.
    ChargedStore(double c_f, double recovered_share);

    double volts() const { return m_plates_v; }
    /// On the plates: ½·C·V², in joules.
    double energyJ() const { return m_c_f * m_plates_v * m_plates_v / 2; }
    double farads() const { return m_c_f; }

    /// Held at `v_v` from outside for `t_s` seconds; what is absorbed follows slowly.
    void hold(double v_v, double t_s);
    /// Left alone for `t_s` seconds with `siemens` across it, 0 for nothing.
    void leave(double siemens, double t_s);
    /// As leave(), while something takes `power_w` from it besides until it is down to `stop_v`, in closed
    /// form but for what the slow branch gives meanwhile. For how long it did, in seconds.
    double draw(double power_w, double stop_v, double siemens, double t_s);

    /// The slow branch has given back all but a hundredth of it after five of these.
    static constexpr double recovers_in_s = 60;

private:
    double m_c_f;
    double m_absorbing_f = 0;
    double m_link_s = 0; ///< conductance between plates and branch
    double m_plates_v = 0;
    double m_absorbed_v = 0;
};

} // namespace offshoot
