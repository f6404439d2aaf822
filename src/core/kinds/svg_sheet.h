// Drawing on a sheet of A4 in millimetres, y downwards.
#pragma once

#include <string>
#include <string_view>

namespace offshoot {

/// Cut with an ellipsis so that it is about `wide` at most; a letter of `size` is about half of it wide.
std::string elided(const std::string& text, double wide, double size);

namespace sheet {

inline constexpr double width = 210;
inline constexpr double height = 297;
inline constexpr double margin = 10; ///< what printers leave
inline constexpr std::string_view black = "#000000";
inline constexpr std::string_view grey = "#7a858c";

struct At
{
    double x;
    double y;
};
std::string begin();
std::string end();
std::string line(const At& from, const At& to, std::string_view colour, double wide,
                 std::string_view dashes = {});
std::string circle(const At& centre, double radius, std::string_view colour, double wide,
                   std::string_view fill = "none");
std::string box(const At& corner, const At& size, std::string_view colour, double wide,
                std::string_view dashes = {});
std::string text(const At& at, const std::string& words, double size, std::string_view colour,
                 std::string_view anchor = "start");
/// A line of 100 mm to check the printer by, its left end at `from`.
std::string ruler(const At& from);

} // namespace sheet

} // namespace offshoot
