#include "core/values/fields.h"

#include <algorithm>
#include <cassert>
#include <cmath>

namespace offshoot {

namespace {

Json listSchema(Lengths length, Json items)
{
    return Json{
        {"type", "array"}, {"minItems", length.min}, {"maxItems", length.max}, {"items", std::move(items)}};
}

Json wordSchema(std::span<const std::string_view> words)
{
    Json list = Json::array();
    for (const std::string_view word : words)
        list.push_back(word);
    return Json{{"type", "string"}, {"enum", std::move(list)}};
}

std::string wordList(std::span<const std::string_view> words)
{
    std::string list;
    for (std::string_view w : words)
        list += (list.empty() ? "" : ", ") + std::string(w);
    return list;
}

/// What a list holds that is no struct: its reader, its writer, its schema.
template <class Read, class Write, class Schema>
struct Items
{
    Read read;
    Write write;
    Schema schema;
};
template <class Read, class Write, class Schema>
Items(Read, Write, Schema) -> Items<Read, Write, Schema>;

} // namespace

Fields::Fields(Mode mode, const Json* in, DocumentPlace at, UnknownKeys unknown, NullPolicy nulls)
    : m_mode(mode)
    , m_in(in)
    , m_at(at)
    , m_unknown(unknown)
    , m_nulls(nulls)
{
    if (mode == Mode::Schema)
        m_out = Json{{"type", "object"}, {"properties", Json::object()}, {"additionalProperties", false}};
    constexpr std::size_t usual_keys = 24;
    if (mode == Mode::Read)
        m_known.reserve(usual_keys);
}

Fields Fields::reader(const Json& in, DocumentPlace at, UnknownKeys unknown)
{
    return {Mode::Read, &in, at, unknown, NullPolicy::Omit};
}

Fields Fields::writer(NullPolicy nulls) { return {Mode::Write, nullptr, {}, UnknownKeys::Refuse, nulls}; }

Fields Fields::schema(UnknownKeys unknown) { return {Mode::Schema, nullptr, {}, unknown, NullPolicy::Omit}; }

Json Fields::finish()
{
    if (m_mode == Mode::Read && m_unknown == UnknownKeys::Refuse) {
        for (const auto& [key, value] : m_in->items())
            if (std::find(m_known.begin(), m_known.end(), key) == m_known.end())
                throw DocumentError(ErrorCode::UnknownKey, pathOf(key), "no such key here");
    }
    if (m_mode != Mode::Write)
        return std::move(m_out);
    Json out = Json::object();
    Json::object_t::Container& object = out.get_ref<Json::object_t&>();
    object.reserve(m_written.size());
    for (auto& [key, value] : m_written)
        object.emplace_back(std::move(key), std::move(value));
    return out;
}

std::string Fields::pathOf(std::string_view key) const { return DocumentPlace(m_at, key).pointer(); }

void Fields::keepUnknown(Json& unknown)
{
    switch (m_mode) {
    case Mode::Read:
        if (m_unknown == UnknownKeys::Refuse)
            return;
        for (const auto& [key, value] : m_in->items())
            if (std::find(m_known.begin(), m_known.end(), key) == m_known.end())
                unknown[key] = value;
        break;
    case Mode::Write:
        if (unknown.is_object())
            for (const auto& [key, value] : unknown.items()) {
                const auto known =
                    std::ranges::find(m_written, key, [](const auto& one) { return one.first; });
                if (known == m_written.end())
                    m_written.emplace_back(key, value);
                else
                    known->second = value;
            }
        break;
    case Mode::Schema:
        if (m_unknown == UnknownKeys::Keep)
            m_out["additionalProperties"] = true;
        break;
    }
}

const Json* Fields::find(std::string_view key, bool required)
{
    m_known.emplace_back(key);
    const auto it = m_in->find(key);
    if (it != m_in->end() && !it->is_null())
        return &*it;
    if (required)
        throw DocumentError(ErrorCode::Missing, pathOf(key), "this is needed");
    return nullptr;
}

void Fields::put(std::string_view key, Json value)
{
    assert(!value.is_number_float() || std::isfinite(value.get<double>()));
    if (!value.is_null() || m_nulls == NullPolicy::WriteNull)
        m_written.emplace_back(key, std::move(value));
}

void Fields::declare(std::string_view key, bool required, Json schema)
{
    m_out["properties"][std::string(key)] = std::move(schema);
    if (required)
        m_out["required"].push_back(key);
}

bool Fields::present(std::string_view key) const
{
    const auto it = m_in->find(key);
    return it != m_in->end() && !it->is_null();
}

void Fields::oneOf(std::initializer_list<std::string_view> keys, std::string_view missing_at)
{
    if (m_mode == Mode::Schema) {
        Json choices = Json::array();
        for (std::string_view key : keys)
            choices.push_back(Json{{"required", Json::array({key})}});
        m_out["oneOf"] = std::move(choices);
    }
    if (m_mode != Mode::Read)
        return;
    const auto count = std::count_if(keys.begin(), keys.end(), [&](auto key) { return present(key); });
    std::string names;
    for (std::string_view key : keys)
        names += (names.empty() ? "" : ", ") + std::string(key);
    if (count == 0 && !missing_at.empty())
        throw DocumentError(ErrorCode::Missing, pathOf(missing_at), "one of these is needed: " + names);
    demand(count == 1, ErrorCode::Inconsistent, {}, "exactly one of these is wanted: " + names);
}

void Fields::demand(bool ok, ErrorCode code, std::string_view key, const std::string& message) const
{
    if (m_mode == Mode::Read && !ok)
        throw DocumentError(code, key.empty() ? path() : pathOf(key), message);
}

void Fields::demandOwn(std::initializer_list<OwnedKey> keys, const std::string& message) const
{
    if (m_mode != Mode::Read)
        return;
    for (const OwnedKey& key : keys) {
        demand(key.own || !present(key.name), ErrorCode::Inconsistent, key.name, message);
        demand(!key.wanted || present(key.name), ErrorCode::Missing, key.name, "is wanted here");
    }
}

// ---- slots of structs and of words

namespace {

std::size_t readWord(const Json& j, const DocumentPlace& at, std::span<const std::string_view> words)
{
    const std::string text = Fields::readText(j, at, any_text);
    const auto found = std::find(words.begin(), words.end(), text);
    if (found == words.end())
        throw DocumentError(ErrorCode::OutOfRange, at.pointer(), "not one of: " + wordList(words));
    return static_cast<std::size_t>(found - words.begin());
}

} // namespace

template <class Read, class Write, class Schema>
void Fields::slot(std::string_view key, bool required, Read read, Write write, Schema make_schema)
{
    switch (m_mode) {
    case Mode::Read:
        if (const Json* j = find(key, required))
            read(*j, DocumentPlace(m_at, key));
        break;
    case Mode::Write:
        put(key, write());
        break;
    case Mode::Schema:
        declare(key, required, make_schema());
        break;
    }
}

template <class T, class I>
void Fields::slotList(std::string_view key, bool required, std::vector<T>& list, Lengths length, I items)
{
    slot(
        key, required,
        [&](const Json& j, const DocumentPlace& at) {
            expectArray(j, at, length);
            list.assign(j.size(), T{});
            for (std::size_t i = 0; i < j.size(); ++i)
                items.read(j[i], DocumentPlace(at, i), list[i]);
        },
        [&] {
            Json j = Json::array();
            for (T& item : list)
                j.push_back(items.write(item));
            return j;
        },
        [&] { return listSchema(length, items.schema()); });
}

void Fields::readObject(const Json& j, const DocumentPlace& at, void* value, Type type, UnknownKeys unknown)
{
    expectObject(j, at);
    Fields f = reader(j, at, unknown);
    type.walk(f, value);
    f.finish();
}

Json Fields::writeObject(void* value, Type type, NullPolicy nulls)
{
    Fields f = writer(nulls);
    type.walk(f, value);
    return f.finish();
}

Json Fields::schemaObject(Type type, UnknownKeys unknown)
{
    Fields f = schema(unknown);
    type.walkEmpty(f);
    return f.finish();
}

void Fields::slotObject(std::string_view key, bool required, void* value, Type type)
{
    slot(
        key, required,
        [&](const Json& j, const DocumentPlace& at) { readObject(j, at, value, type, m_unknown); },
        [&] { return value != nullptr ? writeObject(value, type, m_nulls) : Json(); },
        [&] { return schemaObject(type, m_unknown); });
}

std::optional<std::size_t> Fields::slotSize(std::string_view key, bool required, Lengths length, Type type)
{
    std::optional<std::size_t> size;
    slot(
        key, required,
        [&](const Json& j, const DocumentPlace& at) {
            expectArray(j, at, length);
            size = j.size();
        },
        [] { return Json::array(); }, [&] { return listSchema(length, schemaObject(type, m_unknown)); });
    return size;
}

void Fields::slotItems(std::string_view key, void* first, std::size_t count, std::size_t stride, Type type)
{
    if (m_mode == Mode::Schema || (reading() && !present(key)))
        return;
    const Json* in = reading() ? &m_in->at(key) : nullptr;
    if (in == nullptr && count > 0) // slotSize() put the list just before
        m_written.back().second.get_ref<Json::array_t&>().reserve(count);
    const DocumentPlace list(m_at, key);
    for (std::size_t i = 0; i < count; ++i) {
        void* item = static_cast<char*>(first) + i * stride;
        if (in != nullptr)
            readObject((*in)[i], DocumentPlace(list, i), item, type, m_unknown);
        else
            m_written.back().second.push_back(writeObject(item, type, m_nulls));
    }
}

std::optional<std::vector<std::string>> Fields::slotNames(std::string_view key, Type type)
{
    std::optional<std::vector<std::string>> names;
    slot(
        key, true,
        [&](const Json& j, const DocumentPlace& at) {
            expectObject(j, at);
            names.emplace();
            for (const auto& [name, item] : j.items())
                names->push_back(name);
        },
        [] { return Json::object(); },
        [&] {
            return Json{{"type", "object"}, {"additionalProperties", schemaObject(type, m_unknown)}};
        });
    return names;
}

void Fields::slotNamed(std::string_view key, const std::string& name, void* value, Type type)
{
    const DocumentPlace names(m_at, key);
    if (reading())
        readObject(m_in->at(key).at(name), DocumentPlace(names, name), value, type, m_unknown);
    else if (m_mode == Mode::Write) // slotNames() put the object just before
        m_written.back().second[name] = writeObject(value, type, m_nulls);
}

std::optional<std::size_t> Fields::slotWord(std::string_view key, bool required,
                                            std::optional<std::size_t> held,
                                            std::span<const std::string_view> words)
{
    std::optional<std::size_t> read;
    slot(
        key, required, [&](const Json& j, const DocumentPlace& at) { read = readWord(j, at, words); },
        [&] { return held ? Json(words[*held]) : Json(); }, [&] { return wordSchema(words); });
    return read;
}

void Fields::slotWords(std::string_view key, bool required, std::vector<std::size_t>& held, Lengths length,
                       std::span<const std::string_view> words)
{
    slotList(
        key, required, held, length,
        Items{[&](const Json& j, const DocumentPlace& at, std::size_t& v) { v = readWord(j, at, words); },
              [&](std::size_t& v) { return Json(words[v]); }, [&] { return wordSchema(words); }});
}

// ---- slots of plain values

namespace {

Json numberSchema(Range r)
{
    Json schema{{"type", "number"}};
    schema[r.min_open ? "exclusiveMinimum" : "minimum"] = r.min;
    schema[r.max_open ? "exclusiveMaximum" : "maximum"] = r.max;
    return schema;
}

Json integerSchema(std::int64_t min, std::int64_t max)
{
    return Json{{"type", "integer"}, {"minimum", min}, {"maximum", max}};
}

Json textSchema(Lengths length)
{
    return Json{{"type", "string"}, {"minLength", length.min}, {"maxLength", length.max}};
}

Json networkSchema() { return Json{{"type", Json::array({"number", "string"})}}; }

template <class T>
Json orNull(const std::optional<T>& value)
{
    return value ? Json(*value) : Json();
}

bool readBoolean(const Json& j, const DocumentPlace& at)
{
    if (!j.is_boolean())
        throw DocumentError(ErrorCode::WrongType, at.pointer(), "true or false is wanted here");
    return j.get<bool>();
}

} // namespace

void Fields::need(std::string_view key, double& value, Range r)
{
    slot(
        key, true, [&](const Json& j, const DocumentPlace& at) { value = readNumber(j, at, r); },
        [&] { return Json(value); }, [&] { return numberSchema(r); });
}

void Fields::may(std::string_view key, double& value, Range r)
{
    slot(
        key, false, [&](const Json& j, const DocumentPlace& at) { value = readNumber(j, at, r); },
        [&] { return Json(value); }, [&] { return numberSchema(r); });
}

void Fields::may(std::string_view key, std::optional<double>& value, Range r)
{
    slot(
        key, false, [&](const Json& j, const DocumentPlace& at) { value = readNumber(j, at, r); },
        [&] { return orNull(value); }, [&] { return numberSchema(r); });
}

void Fields::need(std::string_view key, std::int64_t& value, std::int64_t min, std::int64_t max)
{
    slot(
        key, true, [&](const Json& j, const DocumentPlace& at) { value = readInteger(j, at, min, max); },
        [&] { return Json(value); }, [&] { return integerSchema(min, max); });
}

void Fields::may(std::string_view key, std::int64_t& value, std::int64_t min, std::int64_t max)
{
    slot(
        key, false, [&](const Json& j, const DocumentPlace& at) { value = readInteger(j, at, min, max); },
        [&] { return Json(value); }, [&] { return integerSchema(min, max); });
}

void Fields::may(std::string_view key, std::optional<std::int64_t>& value, std::int64_t min, std::int64_t max)
{
    slot(
        key, false, [&](const Json& j, const DocumentPlace& at) { value = readInteger(j, at, min, max); },
        [&] { return orNull(value); }, [&] { return integerSchema(min, max); });
}

void Fields::may(std::string_view key, std::optional<std::int64_t>& value, std::int64_t min, std::int64_t max,
                 std::string_view word)
{
    slot(
        key, false,
        [&](const Json& j, const DocumentPlace& at) {
            if (!j.is_string()) {
                value = readInteger(j, at, min, max);
                return;
            }
            if (j.get_ref<const std::string&>() != word)
                throw DocumentError(ErrorCode::OutOfRange, at.pointer(),
                                    "a number or \"" + std::string(word) + "\" is wanted");
            value.reset();
        },
        [&] { return value ? Json(*value) : Json(word); },
        [&] {
            return Json{{"anyOf", Json::array({integerSchema(min, max), Json{{"const", word}}})}};
        });
}

void Fields::may(std::string_view key, std::optional<NumberOrText>& value, std::int64_t min, std::int64_t max)
{
    slot(
        key, false,
        [&](const Json& j, const DocumentPlace& at) {
            if (j.is_string())
                value = readText(j, at, name_length);
            else
                value = readInteger(j, at, min, max);
        },
        [&] { return !value ? Json() : std::visit([](const auto& held) { return Json(held); }, *value); },
        [&] {
            return Json{{"anyOf", Json::array({integerSchema(min, max), textSchema(name_length)})}};
        });
}

void Fields::need(std::string_view key, bool& value)
{
    slot(
        key, true, [&](const Json& j, const DocumentPlace& at) { value = readBoolean(j, at); },
        [&] { return Json(value); },
        [] {
            return Json{{"type", "boolean"}};
        });
}

void Fields::may(std::string_view key, bool& value)
{
    slot(
        key, false, [&](const Json& j, const DocumentPlace& at) { value = readBoolean(j, at); },
        [&] { return Json(value); },
        [] {
            return Json{{"type", "boolean"}};
        });
}

void Fields::may(std::string_view key, std::optional<bool>& value)
{
    slot(
        key, false, [&](const Json& j, const DocumentPlace& at) { value = readBoolean(j, at); },
        [&] { return orNull(value); },
        [] {
            return Json{{"type", "boolean"}};
        });
}

void Fields::need(std::string_view key, std::string& value, Lengths length)
{
    slot(
        key, true, [&](const Json& j, const DocumentPlace& at) { value = readText(j, at, length); },
        [&] { return Json(value); }, [&] { return textSchema(length); });
}

void Fields::may(std::string_view key, std::string& value, Lengths length)
{
    slot(
        key, false, [&](const Json& j, const DocumentPlace& at) { value = readText(j, at, length); },
        [&] { return Json(value); }, [&] { return textSchema(length); });
}

void Fields::may(std::string_view key, std::optional<std::string>& value, Lengths length)
{
    slot(
        key, false, [&](const Json& j, const DocumentPlace& at) { value = readText(j, at, length); },
        [&] { return orNull(value); }, [&] { return textSchema(length); });
}

void Fields::need(std::string_view key, Network& value, bool zero_allowed)
{
    slot(
        key, true, [&](const Json& j, const DocumentPlace& at) { value = readNetwork(j, at, zero_allowed); },
        [&] { return Json(value.text()); }, [] { return networkSchema(); });
}

void Fields::may(std::string_view key, std::optional<Network>& value, bool zero_allowed)
{
    slot(
        key, false, [&](const Json& j, const DocumentPlace& at) { value = readNetwork(j, at, zero_allowed); },
        [&] { return value ? Json(value->text()) : Json(); }, [] { return networkSchema(); });
}

void Fields::need(std::string_view key, std::vector<double>& list, Range r, Lengths length)
{
    slotList(key, true, list, length,
             Items{[r](const Json& j, const DocumentPlace& at, double& v) { v = readNumber(j, at, r); },
                   [](double& v) { return Json(v); }, [r] { return numberSchema(r); }});
}

void Fields::may(std::string_view key, std::vector<double>& list, Range r, Lengths length)
{
    slotList(key, false, list, length,
             Items{[r](const Json& j, const DocumentPlace& at, double& v) { v = readNumber(j, at, r); },
                   [](double& v) { return Json(v); }, [r] { return numberSchema(r); }});
}

void Fields::may(std::string_view key, std::vector<std::pair<std::string, double>>& entries, Range r,
                 std::size_t most)
{
    slot(
        key, false,
        [&](const Json& j, const DocumentPlace& at) {
            expectObject(j, at);
            if (j.size() > most)
                throw DocumentError(ErrorCode::OutOfRange, at.pointer(),
                                    "at most " + std::to_string(most) + " of them");
            entries.clear();
            for (const auto& [name, item] : j.items()) {
                if (name.empty())
                    throw DocumentError(ErrorCode::OutOfRange, DocumentPlace(at, name).pointer(),
                                        "a name is wanted");
                entries.emplace_back(name, readNumber(item, DocumentPlace(at, name), r));
            }
        },
        [&] {
            Json j = Json::object();
            for (const auto& [name, value] : entries)
                j[name] = value;
            return j;
        },
        [&] {
            return Json{
                {"type", "object"}, {"maxProperties", most}, {"additionalProperties", numberSchema(r)}};
        });
}

void Fields::may(std::string_view key, std::vector<std::string>& list, Lengths length)
{
    slotList(key, false, list, length,
             Items{[](const Json& j, const DocumentPlace& at, std::string& v) {
                       v = readText(j, at, name_length);
                   },
                   [](std::string& v) { return Json(v); }, [] { return textSchema(name_length); }});
}

void Fields::may(std::string_view key, std::vector<std::int64_t>& list, std::int64_t min, std::int64_t max)
{
    slotList(key, false, list, {},
             Items{[&](const Json& j, const DocumentPlace& at, std::int64_t& v) {
                       v = readInteger(j, at, min, max);
                   },
                   [](std::int64_t& v) { return Json(v); }, [&] { return integerSchema(min, max); }});
}

} // namespace offshoot
