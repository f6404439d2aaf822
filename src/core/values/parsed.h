// The result of reading text typed by a person: a value, or a message with the place it belongs to.
#pragma once

#include "core/values/json.h"

#include <cstddef>
#include <string>
#include <utility>
#include <variant>

namespace offshoot {

/// What is wrong with a typed text. `position` counts characters (not bytes) from 0.
struct TextProblem
{
    ErrorCode code; ///< Unreadable or OutOfRange
    std::size_t position;
    std::string message;
};

template <class T>
class Parsed
{
public:
    Parsed(T value)
        : m_content(std::move(value))
    {}
    Parsed(TextProblem problem)
        : m_content(std::move(problem))
    {}
    explicit operator bool() const { return m_content.index() == 0; }
    const T& operator*() const { return std::get<0>(m_content); }
    const T* operator->() const { return &std::get<0>(m_content); }
    const TextProblem& problem() const { return std::get<1>(m_content); }

private:
    std::variant<T, TextProblem> m_content;
};

} // namespace offshoot
