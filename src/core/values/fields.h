// One description of a struct serves its reader, its writer and its JSON Schema.
//
// Every struct that stands in a document has a free function
//     void fields(Fields& f, T& value);
// that names its keys once. `readJson`, `writeJson` and `schemaOf` run that function in three modes.
// Enumerations specialise `Words`. Sizes are small (tens of keys), so lookups are linear.
#pragma once

#include "core/values/json.h"
#include "core/values/network.h"

#include <array>
#include <cstdint>
#include <map>
#include <optional>
#include <set>
#include <span>
#include <type_traits>
#include <utility>
#include <variant>
#include <vector>

namespace offshoot {

/// The words of an enumeration, in the order of its enumerators, which count from 0.
template <class E>
struct Words;

template <class E>
constexpr std::string_view word(E value)
{
    return Words<E>::list.at(static_cast<std::size_t>(value));
}

template <class E>
std::optional<E> enumFrom(std::string_view text)
{
    for (std::size_t i = 0; i < Words<E>::list.size(); ++i)
        if (Words<E>::list[i] == text)
            return static_cast<E>(i);
    return std::nullopt;
}

/// The numbers a key accepts. Magnitudes below `smallest` count as zero, none is above `largest`.
struct Range
{
    double min;
    double max;
    bool min_open = false;
    bool max_open = false;

    static constexpr double largest = 1e15;
    static constexpr double smallest = 1e-15;
    std::string text() const;
};

namespace range {
inline constexpr Range any{-Range::largest, Range::largest};
inline constexpr Range positive{0, Range::largest, true};
inline constexpr Range not_negative{0, Range::largest};
inline constexpr Range fraction{0, 1, false, true}; ///< tolerances: 0 up to but not 1
} // namespace range

struct Lengths
{
    std::size_t min = 0;
    std::size_t max = 1000;
};

/// Text a person gave as a name: not empty.
inline constexpr Lengths name_length{1, 1000};
inline constexpr Lengths any_text{0, 100000};

enum class UnknownKeys { Refuse, Keep };
enum class NullPolicy { WriteNull, Omit };

class Fields
{
public:
    enum class Mode { Read, Write, Schema };

    static Fields reader(const Json& in, std::string path, UnknownKeys unknown);
    static Fields writer(NullPolicy nulls);
    static Fields schema(UnknownKeys unknown);

    Mode mode() const { return m_mode; }
    bool reading() const { return m_mode == Mode::Read; }
    const std::string& path() const { return m_path; }
    /// Ends the walk: in a reader refuses unknown keys; returns what a writer or schema made.
    Json finish();

    // Numbers. `need` must be there; `may` keeps the value it finds as the default; an optional may be
    // absent.
    void need(std::string_view key, double& value, Range r = range::any);
    void may(std::string_view key, double& value, Range r = range::any);
    void may(std::string_view key, std::optional<double>& value, Range r = range::any);
    void need(std::string_view key, std::int64_t& value, std::int64_t min, std::int64_t max);
    void may(std::string_view key, std::int64_t& value, std::int64_t min, std::int64_t max);
    void may(std::string_view key, std::optional<std::int64_t>& value, std::int64_t min, std::int64_t max);

    /// An integer, or `word`, which says the same as leaving it out.
    void may(std::string_view key, std::optional<std::int64_t>& value, std::int64_t min, std::int64_t max,
             std::string_view word);

    /// An integer, or a text, which says the same in another way.
    using NumberOrText = std::variant<std::int64_t, std::string>;
    void may(std::string_view key, std::optional<NumberOrText>& value, std::int64_t min, std::int64_t max);

    void need(std::string_view key, bool& value);
    void may(std::string_view key, bool& value);
    void may(std::string_view key, std::optional<bool>& value);
    void need(std::string_view key, std::string& value, Lengths length = name_length);
    void may(std::string_view key, std::string& value, Lengths length = any_text);
    void may(std::string_view key, std::optional<std::string>& value, Lengths length = name_length);

    /// Ohms as a number or a resistor text; a total of zero is refused unless `zero_allowed`.
    void need(std::string_view key, Network& value, bool zero_allowed = false);
    void may(std::string_view key, std::optional<Network>& value, bool zero_allowed = false);

    template <class E>
    requires std::is_enum_v<E>
    void need(std::string_view key, E& value) { slotWord(key, true, value); }
    template <class E>
    requires std::is_enum_v<E>
    void may(std::string_view key, E& value) { slotWord(key, false, value); }
    template <class E>
    requires std::is_enum_v<E>
    void may(std::string_view key, std::optional<E>& value)
    {
        slot(
            key, false, [&](const Json& j, const std::string& at) { value = readWord<E>(j, at); },
            [&] { return value ? Json(word(*value)) : Json(); }, [] { return wordSchema<E>(); });
    }

    template <class T>
    requires std::is_class_v<T>
    void need(std::string_view key, T& value) { slotObject(key, true, value); }
    template <class T>
    requires std::is_class_v<T>
    void may(std::string_view key, T& value) { slotObject(key, false, value); }
    template <class T>
    requires std::is_class_v<T>
    void may(std::string_view key, std::optional<T>& value)
    {
        slot(
            key, false,
            [&](const Json& j, const std::string& at) {
                T made{}; // emplace() would ask clang for a constructor of a nested type it has not seen
                          // whole
                readObject(j, at, made);
                value = std::move(made);
            },
            [&] { return value ? writeObject(*value) : Json(); },
            [this] { return schemaObject<T>(m_unknown); });
    }

    template <class T>
    requires std::is_class_v<T>
    void need(std::string_view key, std::vector<T>& list, Lengths length = {})
    {
        slotList(key, true, list, length, objectItems<T>());
    }
    template <class T>
    requires std::is_class_v<T>
    void may(std::string_view key, std::vector<T>& list, Lengths length = {})
    {
        slotList(key, false, list, length, objectItems<T>());
    }
    template <class E>
    requires std::is_enum_v<E>
    void need(std::string_view key, std::vector<E>& list, Lengths length)
    {
        slotList(key, true, list, length, wordItems<E>());
    }
    template <class E>
    requires std::is_enum_v<E>
    void may(std::string_view key, std::vector<E>& list, Lengths length)
    {
        slotList(key, false, list, length, wordItems<E>());
    }
    /// A list of words or objects that may be absent, which is not the same as empty.
    template <class T>
    requires(std::is_enum_v<T> || std::is_class_v<T>) void may(std::string_view key,
                                                               std::optional<std::vector<T>>& list,
                                                               Lengths length = {})
    {
        if (m_mode == Mode::Write && !list)
            return slot(
                key, false, [](const Json&, const std::string&) {}, [] { return Json(); },
                [] { return Json(); });
        std::vector<T> read = list.value_or(std::vector<T>{});
        if constexpr (std::is_enum_v<T>)
            slotList(key, false, read, length, wordItems<T>());
        else
            slotList(key, false, read, length, objectItems<T>());
        if (m_mode == Mode::Read && present(key))
            list = std::move(read);
    }
    void need(std::string_view key, std::vector<double>& list, Range r, Lengths length = {});
    void may(std::string_view key, std::vector<double>& list, Range r, Lengths length = {});
    /// An object of numbers by names chosen by the writer of the document.
    void may(std::string_view key, std::vector<std::pair<std::string, double>>& entries, Range r,
             std::size_t most);
    void may(std::string_view key, std::vector<std::string>& list, Lengths length = {});
    void may(std::string_view key, std::vector<std::int64_t>& list, std::int64_t min, std::int64_t max);

    /// An object whose keys are names chosen by the writer of the document, in their order.
    template <class T>
    void need(std::string_view key, std::vector<std::pair<std::string, T>>& entries)
    {
        slot(
            key, true,
            [&](const Json& j, const std::string& at) {
                expectObject(j, at);
                entries.clear();
                for (const auto& [name, item] : j.items())
                    readObject(item, jsonPath(at, name), entries.emplace_back(name, T{}).second);
            },
            [&] {
                Json j = Json::object();
                for (auto& [name, item] : entries)
                    j[name] = writeObject(item);
                return j;
            },
            [this] {
                return Json{{"type", "object"}, {"additionalProperties", schemaObject<T>(m_unknown)}};
            });
    }

    /// Writes a value that only results have and no document is read from.
    void write(std::string_view key, Json value)
    {
        if (m_mode == Mode::Write)
            put(key, std::move(value));
    }

    /// A struct with a member `Json unknown` keeps there the keys this version does not know, and writes
    /// them back. Only where the policy is to keep them; otherwise finish() refuses them.
    template <class T>
    void keepUnknownOf(T& value)
    {
        if constexpr (requires { value.unknown; })
            keepUnknown(value.unknown);
    }

    /// Exactly one of the keys must be there; otherwise `inconsistent` at this object, or `missing` at
    /// `missing_at` when that is given and none is there.
    void oneOf(std::initializer_list<std::string_view> keys, std::string_view missing_at = {});
    /// Refuses the document when `ok` is false; `key` is the place within this object, empty for itself.
    void demand(bool ok, ErrorCode code, std::string_view key, const std::string& message) const;
    /// A key of an object whose choice decides which keys it has.
    struct OwnedKey
    {
        std::string_view name;
        bool own;    ///< belongs to the choice made
        bool wanted; ///< and must be there
    };
    /// Refuses keys that belong to another choice with `message`, and asks for those wanted.
    void demandOwn(std::initializer_list<OwnedKey> keys, const std::string& message) const;
    /// Refuses a list in which two items have one name.
    template <class T>
    void demandUniqueNames(std::string_view key, const std::vector<T>& list) const
    {
        std::set<std::string_view> seen;
        for (std::size_t i = 0; i < list.size(); ++i)
            if (reading() && !seen.insert(list[i].name).second)
                throw DocumentError(ErrorCode::Inconsistent, jsonPath(jsonPath(m_path, key), i) + "/name",
                                    "this name stands here already");
    }
    bool present(std::string_view key) const;

    template <class T>
    static void readObject(const Json& j, const std::string& at, T& value, UnknownKeys unknown)
    {
        expectObject(j, at);
        Fields f = reader(j, at, unknown);
        fields(f, value);
        f.keepUnknownOf(value);
        f.finish();
    }
    template <class T>
    static Json schemaObject(UnknownKeys unknown)
    {
        Fields f = schema(unknown);
        T value{};
        fields(f, value);
        f.keepUnknownOf(value);
        return f.finish();
    }
    static void expectObject(const Json& j, const std::string& at);
    static double readNumber(const Json& j, const std::string& at, Range r);
    static std::int64_t readInteger(const Json& j, const std::string& at, std::int64_t min, std::int64_t max);
    static std::string readText(const Json& j, const std::string& at, Lengths length);
    static Network readNetwork(const Json& j, const std::string& at, bool zero_allowed);

private:
    Fields(Mode mode, const Json* in, std::string path, UnknownKeys unknown, NullPolicy nulls);

    template <class Read, class Write, class Schema>
    void slot(std::string_view key, bool required, Read read, Write write, Schema make_schema)
    {
        switch (m_mode) {
        case Mode::Read:
            if (const Json* j = find(key, required))
                read(*j, jsonPath(m_path, key));
            break;
        case Mode::Write:
            put(key, write());
            break;
        case Mode::Schema:
            declare(key, required, make_schema());
            break;
        }
    }

    template <class T>
    void readObject(const Json& j, const std::string& at, T& value) const
    {
        readObject(j, at, value, m_unknown);
    }
    template <class T>
    Json writeObject(T& value) const
    {
        Fields f = writer(m_nulls);
        fields(f, value);
        f.keepUnknownOf(value);
        return f.finish();
    }
    template <class T>
    void slotObject(std::string_view key, bool required, T& value)
    {
        slot(
            key, required, [&](const Json& j, const std::string& at) { readObject(j, at, value); },
            [&] { return writeObject(value); }, [this] { return schemaObject<T>(m_unknown); });
    }
    template <class E>
    static E readWord(const Json& j, const std::string& at)
    {
        const auto found = enumFrom<E>(readText(j, at, any_text));
        if (!found)
            throw DocumentError(ErrorCode::OutOfRange, at, "not one of: " + wordList(Words<E>::list));
        return *found;
    }
    template <class E>
    static Json wordSchema()
    {
        return Json{{"type", "string"}, {"enum", Words<E>::list}};
    }
    template <class E>
    void slotWord(std::string_view key, bool required, E& value)
    {
        slot(
            key, required, [&](const Json& j, const std::string& at) { value = readWord<E>(j, at); },
            [&] { return Json(word(value)); }, [] { return wordSchema<E>(); });
    }

    template <class Read, class Write, class Schema>
    struct Items
    {
        Read read;
        Write write;
        Schema schema;
    };
    template <class Read, class Write, class Schema>
    Items(Read, Write, Schema) -> Items<Read, Write, Schema>;

    template <class T>
    auto objectItems()
    {
        return Items{[this](const Json& j, const std::string& at, T& item) { readObject(j, at, item); },
                     [this](T& item) { return writeObject(item); },
                     [this] { return schemaObject<T>(m_unknown); }};
    }
    template <class E>
    static auto wordItems()
    {
        return Items{[](const Json& j, const std::string& at, E& item) { item = readWord<E>(j, at); },
                     [](E& item) { return Json(word(item)); }, [] { return wordSchema<E>(); }};
    }
    template <class T, class I>
    void slotList(std::string_view key, bool required, std::vector<T>& list, Lengths length, I items)
    {
        slot(
            key, required,
            [&](const Json& j, const std::string& at) {
                expectArray(j, at, length);
                list.assign(j.size(), T{});
                for (std::size_t i = 0; i < j.size(); ++i)
                    items.read(j[i], jsonPath(at, i), list[i]);
            },
            [&] {
                Json j = Json::array();
                for (T& item : list)
                    j.push_back(items.write(item));
                return j;
            },
            [&] {
                return Json{{"type", "array"},
                            {"minItems", length.min},
                            {"maxItems", length.max},
                            {"items", items.schema()}};
            });
    }

    void keepUnknown(Json& unknown);
    const Json* find(std::string_view key, bool required);
    void put(std::string_view key, Json value);
    void declare(std::string_view key, bool required, Json schema);
    static void expectArray(const Json& j, const std::string& at, Lengths length);
    static std::string wordList(std::span<const std::string_view> words);

    Mode m_mode;
    const Json* m_in;
    Json m_out;
    std::string m_path;
    UnknownKeys m_unknown;
    NullPolicy m_nulls;
    std::vector<std::string> m_known;
    bool m_keeps_unknown = false;
};

/// Reads a T from a document that must be an object. Throws DocumentError.
template <class T>
T readJson(const Json& document, UnknownKeys unknown = UnknownKeys::Refuse)
{
    T value{};
    Fields::readObject(document, "", value, unknown);
    return value;
}

/// Writes what `fields` names. Quantities that do not exist become null, or are left out.
template <class T>
Json writeJson(const T& value, NullPolicy nulls = NullPolicy::WriteNull)
{
    Fields f = Fields::writer(nulls);
    auto& readable = const_cast<T&>(value); // the writing mode only reads the value
    fields(f, readable);
    f.keepUnknownOf(readable);
    return f.finish();
}

/// The JSON Schema (draft 7) of the documents readJson<T> accepts.
template <class T>
Json schemaOf(std::string_view title, UnknownKeys unknown = UnknownKeys::Refuse)
{
    Json schema = Fields::schemaObject<T>(unknown);
    Json head{{"$schema", "http://json-schema.org/draft-07/schema#"}, {"title", title}};
    head.update(schema);
    return head;
}

} // namespace offshoot
