#include "core/values/json.h"

#include <array>
#include <vector>

template class nlohmann::basic_json<nlohmann::ordered_map>;

namespace offshoot {

std::string_view wordFor(ErrorCode code)
{
    static constexpr std::array<std::string_view, 8> words{
        "not_json",     "missing",      "unknown_key", "wrong_type",
        "out_of_range", "inconsistent", "unreadable",  "no_solution",
    };
    return words.at(static_cast<std::size_t>(code));
}

std::string jsonPath(const std::string& parent, std::string_view key)
{
    std::string path = parent + '/';
    for (char c : key) {
        if (c == '~')
            path += "~0";
        else if (c == '/')
            path += "~1";
        else
            path += c;
    }
    return path;
}

std::string jsonPath(const std::string& parent, std::size_t index)
{
    return parent + '/' + std::to_string(index);
}

std::string DocumentPlace::pointer() const
{
    if (m_above == nullptr)
        return {};
    return m_index ? jsonPath(m_above->pointer(), *m_index) : jsonPath(m_above->pointer(), m_key);
}

namespace {

/// Builds the value, and watches depth, syntax and numbers while it does, with the place of what is wrong.
class Builder : public nlohmann::json_sax<Json>
{
public:
    explicit Builder(Json& document)
        : m_document(document)
    {}
    bool null() override { return m_document.null() && leaf(); }
    bool boolean(bool value) override { return m_document.boolean(value) && leaf(); }
    bool number_integer(number_integer_t value) override
    {
        return m_document.number_integer(value) && leaf();
    }
    bool number_unsigned(number_unsigned_t value) override
    {
        return m_document.number_unsigned(value) && leaf();
    }
    bool number_float(number_float_t value, const string_t& text) override
    {
        return m_document.number_float(value, text) && leaf();
    }
    bool string(string_t& value) override { return m_document.string(value) && leaf(); }
    bool binary(binary_t& value) override { return m_document.binary(value) && leaf(); }
    bool start_object(std::size_t size) override { return open(false) && m_document.start_object(size); }
    bool start_array(std::size_t size) override { return open(true) && m_document.start_array(size); }
    bool end_object() override { return m_document.end_object() && close(); }
    bool end_array() override { return m_document.end_array() && close(); }
    bool key(string_t& value) override
    {
        m_levels.back().key = value;
        return m_document.key(value);
    }
    bool parse_error(std::size_t /*position*/, const std::string& /*token*/,
                     const nlohmann::detail::exception& error) override
    {
        constexpr int number_overflow = 406;
        if (error.id == number_overflow)
            throw DocumentError(ErrorCode::OutOfRange, path(), "this number is larger than can be held");
        throw DocumentError(ErrorCode::NotJson, "", std::string("not JSON: ") + error.what());
    }

private:
    struct Level
    {
        bool is_array;
        std::size_t index;
        std::string key;
    };

    bool leaf()
    {
        if (!m_levels.empty() && m_levels.back().is_array)
            ++m_levels.back().index;
        return true;
    }
    bool open(bool is_array)
    {
        if (m_levels.size() >= max_json_depth)
            throw DocumentError(ErrorCode::NotJson, "", "nests deeper than 64 levels");
        m_levels.push_back({is_array, 0, {}});
        return true;
    }
    bool close()
    {
        m_levels.pop_back();
        return leaf();
    }
    std::string path() const
    {
        std::string result;
        for (const Level& level : m_levels)
            result = level.is_array ? jsonPath(result, level.index) : jsonPath(result, level.key);
        return result;
    }

    nlohmann::detail::json_sax_dom_parser<Json> m_document;
    std::vector<Level> m_levels;
};

} // namespace

Json parseJson(std::string_view text)
{
    Json document;
    Builder builder(document);
    Json::sax_parse(text, &builder);
    return document;
}

} // namespace offshoot
