#include "core/evaluate/step_times.h"

namespace offshoot {

double handsMinutes(const Step& step)
{
    switch (step.kind) {
    case StepKind::Look:
    case StepKind::Power:
    case StepKind::Probe:
    case StepKind::Adjust:
        return 2;
    case StepKind::Isolate:
        return 1;
    case StepKind::Prove:
        return 3;
    case StepKind::Touch:
        return step.is(Does::ConnectWire) ? 0 : 3;
    case StepKind::Wait:
        return 0;
    }
    return 0;
}

} // namespace offshoot
