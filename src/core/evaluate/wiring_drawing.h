// How a list of connections is drawn: every node a level line with its name, every part upright in a column
// of its own between the two lines it joins. The window and the report paint this layout; nothing is drawn
// that is not in the list.
#pragma once

#include "core/supply/connections.h"

#include <string>
#include <vector>

namespace offshoot {

/// A node's line, in columns across and levels down.
struct DrawnNode
{
    std::string name;
    int level;
    int first; ///< columns of the outermost parts on it
    int last;
};

struct DrawnPart
{
    std::size_t part; ///< in the list
    int column;
    int upper; ///< levels of its two nodes
    int lower;
    bool from_above; ///< its `from` is the upper one: plus of a source, anode of a diode
};

struct WiringDrawing
{
    std::vector<DrawnNode> nodes; ///< from the top
    std::vector<DrawnPart> parts;
    int columns = 0;
};
WiringDrawing wiringDrawing(const Connections& connections);

/// The drawing as an SVG image for a report: found parts thin, added ones strong and marked "new", what goes
/// out dashed and marked "out", so that it reads in black and white.
std::string wiringSvg(const Connections& connections);

} // namespace offshoot
