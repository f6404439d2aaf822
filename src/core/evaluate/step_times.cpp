#include "core/evaluate/step_times.h"

namespace offshoot {

int jointsOf(const Connections& connections)
{
    int joints = 0;
    for (const ConnectedPart& part : connections.parts)
        joints += connections.isList() ? 1 : part.fate == PartFate::Added ? 2 : 0;
    return joints;
}

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
