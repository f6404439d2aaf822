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

    static Fields reader(const Json& in, DocumentPlace at, UnknownKeys unknown);
    static Fields writer(NullPolicy nulls);
    static Fields schema(UnknownKeys unknown);

    Mode mode() const { return m_mode; }
    bool reading() const { return m_mode == Mode::Read; }
    std::string path() const { return m_at.pointer(); }
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
    void need(std::string_view key, E& value)
    {
        if (const auto read = slotWord(key, true, static_cast<std::size_t>(value), Words<E>::list))
            value = static_cast<E>(*read);
    }
    template <class E>
    requires std::is_enum_v<E>
    void may(std::string_view key, E& value)
    {
        if (const auto read = slotWord(key, false, static_cast<std::size_t>(value), Words<E>::list))
            value = static_cast<E>(*read);
    }
    template <class E>
    requires std::is_enum_v<E>
    void may(std::string_view key, std::optional<E>& value)
    {
        const auto held = value ? std::optional(static_cast<std::size_t>(*value)) : std::nullopt;
        if (const auto read = slotWord(key, false, held, Words<E>::list))
            value = static_cast<E>(*read);
    }

    template <class T>
    requires std::is_class_v<T>
    void need(std::string_view key, T& value) { slotObject(key, true, &value, typeOf<T>()); }
    template <class T>
    requires std::is_class_v<T>
    void may(std::string_view key, T& value) { slotObject(key, false, &value, typeOf<T>()); }
    template <class T>
    requires std::is_class_v<T>
    void may(std::string_view key, std::optional<T>& value)
    {
        if (reading() && present(key))
            value = T{}; // emplace() would ask clang for a constructor of a nested type it has not seen whole
        slotObject(key, false, value ? &*value : nullptr, typeOf<T>());
    }

    template <class T>
    requires std::is_class_v<T>
    void need(std::string_view key, std::vector<T>& list, Lengths length = {})
    {
        slotObjects(key, true, list, length);
    }
    template <class T>
    requires std::is_class_v<T>
    void may(std::string_view key, std::vector<T>& list, Lengths length = {})
    {
        slotObjects(key, false, list, length);
    }
    template <class E>
    requires std::is_enum_v<E>
    void need(std::string_view key, std::vector<E>& list, Lengths length)
    {
        slotWords(key, true, list, length);
    }
    template <class E>
    requires std::is_enum_v<E>
    void may(std::string_view key, std::vector<E>& list, Lengths length)
    {
        slotWords(key, false, list, length);
    }
    /// A list of words or objects that may be absent, which is not the same as empty.
    template <class T>
    requires(std::is_enum_v<T> || std::is_class_v<T>) void may(std::string_view key,
                                                               std::optional<std::vector<T>>& list,
                                                               Lengths length = {})
    {
        if (m_mode == Mode::Write && !list)
            return put(key, Json());
        std::vector<T> none;
        may(key, list ? *list : none, length);
        if (reading() && !list && present(key))
            list = std::move(none);
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
        if (const auto names = slotNames(key, typeOf<T>())) {
            entries.clear();
            for (const std::string& name : *names)
                entries.emplace_back(name, T{});
        }
        for (auto& [name, value] : entries)
            slotNamed(key, name, &value, typeOf<T>());
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
                throw DocumentError(ErrorCode::Inconsistent, jsonPath(pathOf(key), i) + "/name",
                                    "this name stands here already");
    }
    bool present(std::string_view key) const;

    template <class T>
    static void readObject(const Json& j, const DocumentPlace& at, T& value, UnknownKeys unknown)
    {
        readObject(j, at, &value, typeOf<T>(), unknown);
    }
    template <class T>
    static Json writeObject(const T& value, NullPolicy nulls)
    {
        return writeObject(const_cast<T*>(&value), typeOf<T>(), nulls); // the writing mode only reads it
    }
    template <class T>
    static Json schemaObject(UnknownKeys unknown)
    {
        return schemaObject(typeOf<T>(), unknown);
    }
    static void expectObject(const Json& j, const DocumentPlace& at);
    static double readNumber(const Json& j, const DocumentPlace& at, Range r);
    static std::int64_t readInteger(const Json& j, const DocumentPlace& at, std::int64_t min,
                                    std::int64_t max);
    static std::string readText(const Json& j, const DocumentPlace& at, Lengths length);
    static Network readNetwork(const Json& j, const DocumentPlace& at, bool zero_allowed);

private:
    Fields(Mode mode, const Json* in, DocumentPlace at, UnknownKeys unknown, NullPolicy nulls);

    /// A struct is walked where its type is known, and read, written and described where it is not: it costs
    /// two short functions.
    struct Type
    {
        void (*walk)(Fields& f, void* value);
        void (*walkEmpty)(Fields& f);
    };
    template <class T>
    static Type typeOf()
    {
        return {[](Fields& f, void* value) { f.walk(*static_cast<T*>(value)); },
                [](Fields& f) {
                    T empty{};
                    f.walk(empty);
                }};
    }
    template <class T>
    void walk(T& value)
    {
        fields(*this, value);
        keepUnknownOf(value);
    }
    static void readObject(const Json& j, const DocumentPlace& at, void* value, Type type,
                           UnknownKeys unknown);
    static Json writeObject(void* value, Type type, NullPolicy nulls);
    static Json schemaObject(Type type, UnknownKeys unknown);

    /// Nothing to write where there is no value.
    void slotObject(std::string_view key, bool required, void* value, Type type);
    template <class T>
    void slotObjects(std::string_view key, bool required, std::vector<T>& list, Lengths length)
    {
        if (const auto size = slotSize(key, required, length, typeOf<T>()))
            list = std::vector<T>(*size);
        slotItems(key, list.data(), list.size(), sizeof(T), typeOf<T>());
    }
    /// How many there are to read.
    std::optional<std::size_t> slotSize(std::string_view key, bool required, Lengths length, Type type);
    void slotItems(std::string_view key, void* first, std::size_t count, std::size_t stride, Type type);
    /// The names there are to read.
    std::optional<std::vector<std::string>> slotNames(std::string_view key, Type type);
    void slotNamed(std::string_view key, const std::string& name, void* value, Type type);
    /// Which of the words was read.
    std::optional<std::size_t> slotWord(std::string_view key, bool required, std::optional<std::size_t> held,
                                        std::span<const std::string_view> words);
    template <class E>
    void slotWords(std::string_view key, bool required, std::vector<E>& list, Lengths length)
    {
        std::vector<std::size_t> held;
        for (const E item : list)
            held.push_back(static_cast<std::size_t>(item));
        slotWords(key, required, held, length, Words<E>::list);
        list.clear();
        for (const std::size_t item : held)
            list.push_back(static_cast<E>(item));
    }
    void slotWords(std::string_view key, bool required, std::vector<std::size_t>& held, Lengths length,
                   std::span<const std::string_view> words);

    template <class Read, class Write, class Schema>
    void slot(std::string_view key, bool required, Read read, Write write, Schema make_schema);
    template <class T, class I>
    void slotList(std::string_view key, bool required, std::vector<T>& list, Lengths length, I items);

    /// The pointer to a key of this object.
    std::string pathOf(std::string_view key) const;
    void keepUnknown(Json& unknown);
    const Json* find(std::string_view key, bool required);
    void put(std::string_view key, Json value);
    void declare(std::string_view key, bool required, Json schema);
    static void expectArray(const Json& j, const DocumentPlace& at, Lengths length);

    Mode m_mode;
    const Json* m_in;
    Json m_out; ///< the schema
    /// Put into an object once its size is known: one that grows copies all that is in it.
    std::vector<std::pair<std::string, Json>> m_written;
    DocumentPlace m_at;
    UnknownKeys m_unknown;
    NullPolicy m_nulls;
    std::vector<std::string_view> m_known; ///< of the structs' own literals
};

/// Reads a T from a document that must be an object. Throws DocumentError.
template <class T>
T readJson(const Json& document, UnknownKeys unknown = UnknownKeys::Refuse)
{
    T value{};
    Fields::readObject(document, {}, value, unknown);
    return value;
}

/// Writes what `fields` names. Quantities that do not exist become null, or are left out.
template <class T>
Json writeJson(const T& value, NullPolicy nulls = NullPolicy::WriteNull)
{
    return Fields::writeObject(value, nulls);
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
