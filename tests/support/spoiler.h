// Random changes of a document: keys taken away, figures scaled or zeroed, items doubled.
#pragma once

#include "support/support.h"

#include <random>

namespace offshoot::test {

class Spoiler
{
public:
    explicit Spoiler(unsigned seed)
        : m_random(seed)
    {}
    /// One change at a random place; what it was, for the message.
    std::string spoil(Json& file)
    {
        const Json::json_pointer at = placeAt(file, 1 + m_random() % (placeCount(file) - 1)); // not the root
        Json& parent = file[at.parent_pointer()];
        switch (m_random() % 5) {
        case 0:
        case 1:
            if (parent.is_object())
                parent.erase(at.back());
            else
                parent.erase(static_cast<std::size_t>(std::stoul(at.back())));
            return "without " + at.to_string();
        case 2:
            if (file[at].is_number())
                file[at] =
                    file[at].get<double>() * std::exp(std::uniform_real_distribution(-4.0, 4.0)(m_random));
            return "another figure at " + at.to_string();
        case 3:
            if (file[at].is_boolean())
                file[at] = !file[at].get<bool>();
            else if (file[at].is_number())
                file[at] = 0;
            return "0 at " + at.to_string();
        default:
            if (parent.is_array())
                parent.push_back(Json(file[at]));
            return "twice " + at.to_string();
        }
    }

private:
    std::mt19937 m_random;
};

} // namespace offshoot::test
