// Documents in and out of the core: the JSON type, the one exception for bad documents, and a strict parser.
#pragma once

#include <nlohmann/json.hpp>

#include <optional>
#include <stdexcept>
#include <string>
#include <string_view>

// Compiled once, in json.cpp.
extern template class nlohmann::basic_json<nlohmann::ordered_map>;

namespace offshoot {

using Json = nlohmann::ordered_json;

enum class ErrorCode {
    NotJson,
    Missing,
    UnknownKey,
    WrongType,
    OutOfRange,
    Inconsistent,
    Unreadable,
    NoSolution,
};

/// The stable name of a code in documents, such as "out_of_range".
std::string_view wordFor(ErrorCode code);

/// A document that cannot be used. `path` is the JSON pointer of the value at fault.
class DocumentError : public std::runtime_error
{
public:
    DocumentError(ErrorCode code, std::string path, const std::string& message)
        : std::runtime_error(message)
        , m_code(code)
        , m_path(std::move(path))
    {}
    ErrorCode code() const { return m_code; }
    const std::string& path() const { return m_path; }

private:
    ErrorCode m_code;
    std::string m_path;
};

/// Largest nesting a document may have; deeper text is `not_json`.
inline constexpr std::size_t max_json_depth = 64;

/// Reads exactly one JSON value. Throws DocumentError: `not_json` (path empty) for text that is none or
/// nests too deep, `out_of_range` at its place for a number no double can hold.
Json parseJson(std::string_view text);

/// One step down a JSON pointer, with `~` and `/` in the key escaped (RFC 6901).
std::string jsonPath(const std::string& parent, std::string_view key);
std::string jsonPath(const std::string& parent, std::size_t index);

/// Where in a document a value stands, which costs no text as long as nothing is wrong there. It points to
/// the place above it, which must outlive it.
class DocumentPlace
{
public:
    /// The document itself.
    DocumentPlace() = default;
    DocumentPlace(const DocumentPlace& above, std::string_view key)
        : m_above(&above)
        , m_key(key)
    {}
    DocumentPlace(const DocumentPlace& above, std::size_t index)
        : m_above(&above)
        , m_index(index)
    {}
    /// A JSON pointer, as jsonPath writes it.
    std::string pointer() const;

private:
    const DocumentPlace* m_above = nullptr;
    std::string_view m_key = {};
    std::optional<std::size_t> m_index = {};
};

} // namespace offshoot
