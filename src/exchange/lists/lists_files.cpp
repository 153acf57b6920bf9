// Lists as files.
#include "base/text.h"
#include "exchange/lists/lists.h"
#include "exchange/out/xml.h"
#include "model/file/zipped.h"
#include <cstdio>
#include <filesystem>
#include <nlohmann/json.hpp>
#include <unistd.h>

namespace vicinal {
namespace {

/// What stands before the tables of a spreadsheet: formats of numbers.
std::string opening() {
    std::string styles;
    for (int d = 0; d <= 4; ++d) {
        const std::string n = std::to_string(d);
        styles += "<number:number-style style:name=\"f" + n + "\"><number:number number:decimal-places=\"" + n +
                  "\" number:min-integer-digits=\"1\"/></number:number-style><style:style style:name=\"n" + n +
                  "\" style:family=\"table-cell\" style:data-style-name=\"f" + n + "\"/>";
    }
    return "<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n<office:document-content "
           "xmlns:office=\"urn:oasis:names:tc:opendocument:xmlns:office:1.0\" "
           "xmlns:table=\"urn:oasis:names:tc:opendocument:xmlns:table:1.0\" "
           "xmlns:text=\"urn:oasis:names:tc:opendocument:xmlns:text:1.0\" "
           "xmlns:style=\"urn:oasis:names:tc:opendocument:xmlns:style:1.0\" "
           "xmlns:number=\"urn:oasis:names:tc:opendocument:xmlns:datastyle:1.0\" "
           "xmlns:fo=\"urn:oasis:names:tc:opendocument:xmlns:xsl-fo-compatible:1.0\" office:version=\"1.2\">"
           "<office:automatic-styles><style:style style:name=\"head\" "
           "style:family=\"table-cell\"><style:text-properties "
           "fo:font-weight=\"bold\"/></style:style>" +
           styles + "</office:automatic-styles><office:body><office:spreadsheet>";
}

/// A file in the temporary folder that goes away again.
class TextFile {
public:
    TextFile() : m_path((std::filesystem::temp_directory_path() / "vicinal-XXXXXX").string()) {
        const int handle = mkstemp(m_path.data());
        m_file = handle < 0 ? nullptr : fdopen(handle, "wb");
    }
    ~TextFile() {
        if (m_file) std::fclose(m_file);
        unlink(m_path.c_str());
    }
    TextFile(const TextFile&) = delete;
    TextFile& operator=(const TextFile&) = delete;
    bool good() const { return m_file != nullptr; }
    /// Takes what is in it, and leaves it empty.
    bool add(std::string& text) const {
        const bool all = std::fwrite(text.data(), 1, text.size(), m_file) == text.size();
        text.clear();
        return all;
    }
    bool done() const { return std::fflush(m_file) == 0; }
    const std::string& path() const { return m_path; }

private:
    std::string m_path;
    std::FILE* m_file;
};

} // namespace

std::string csvOf(const List& list, const Stop* stop) {
    std::string out;
    for (const ListColumn& c : list.columns) out += (out.empty() ? "" : ",") + csvCell(c.name);
    out += "\n";
    list.rows([&](std::span<const Cell> row) {
        for (size_t k = 0; k < row.size(); ++k) {
            if (k) out += ',';
            if (row[k].empty) continue;
            if (list.columns[k].isText)
                out += csvCell(*row[k].text);
            else
                out += text::fixed(row[k].number, list.columns[k].decimals);
        }
        out += '\n';
        return !stopped(stop);
    });
    return out;
}

std::string jsonOf(const List& list, const Stop* stop) {
    using Json = nlohmann::ordered_json;
    Json units = Json::object(), rows = Json::array();
    for (const ListColumn& c : list.columns)
        if (!c.unit.empty()) units[c.name] = c.unit;
    list.rows([&](std::span<const Cell> row) {
        Json one = Json::object();
        for (size_t k = 0; k < row.size(); ++k) {
            const ListColumn& c = list.columns[k];
            if (row[k].empty)
                one[c.name] = nullptr;
            else if (c.isText)
                one[c.name] = *row[k].text;
            else if (c.decimals == 0)
                one[c.name] = std::int64_t(row[k].number);
            else
                one[c.name] = row[k].number;
        }
        rows.push_back(std::move(one));
        return !stopped(stop);
    });
    const Json out = {{"list", list.title}, {"units", units}, {"rows", rows}};
    return out.dump(1, ' ', false, Json::error_handler_t::replace) + "\n";
}

Result<std::string> odsOf(const List& list, const Stop* stop) {
    constexpr size_t kMostRows = 1'000'000; // a sheet of the common programs holds 1,048,576
    const auto textCell = [](const std::string& s, const char* style = "") {
        return "<table:table-cell" + std::string(style) + " office:value-type=\"string\"><text:p>" + xmlText(s) +
               "</text:p></table:table-cell>";
    };
    std::string head = "<table:table-header-rows><table:table-row>";
    for (const ListColumn& c : list.columns)
        head += textCell(c.unit.empty() ? c.name : c.name + " [" + c.unit + "]", " table:style-name=\"head\"");
    head += "</table:table-row></table:table-header-rows>";
    // Hundreds of bytes a cell: the text goes through a file, a stretch at a time, and is never whole in memory.
    const TextFile file;
    if (!file.good()) return Problem{"Cannot write a temporary file. Make room in the temporary folder.", "file"};
    std::string body = opening();
    bool room = true;
    size_t rows = 0;
    int sheet = 0;
    const auto open = [&] {
        if (sheet++ > 0) body += "</table:table>";
        body += "<table:table table:name=\"" + xmlText(list.title) + (sheet > 1 ? " " + std::to_string(sheet) : "") +
                "\">" + head;
    };
    open();
    list.rows([&](std::span<const Cell> row) {
        if (rows++ > 0 && (rows - 1) % kMostRows == 0) open();
        body += "<table:table-row>";
        for (size_t k = 0; k < row.size(); ++k) {
            if (row[k].empty)
                body += "<table:table-cell/>";
            else if (list.columns[k].isText)
                body += textCell(*row[k].text);
            else {
                const int decimals = std::min(list.columns[k].decimals, 4);
                body += "<table:table-cell table:style-name=\"n" + std::to_string(decimals) +
                        "\" office:value-type=\"float\" office:value=\"" + text::exact(row[k].number) + "\"><text:p>" +
                        text::fixed(row[k].number, decimals) + "</text:p></table:table-cell>";
            }
        }
        body += "</table:table-row>";
        if (body.size() > (1u << 20)) room = file.add(body);
        return room && !stopped(stop);
    });
    body += "</table:table></office:spreadsheet></office:body></office:document-content>";
    if (stopped(stop)) return Problem{"Sending out was cancelled; the file is as it was.", ""};
    if (!room || !file.add(body) || !file.done())
        return Problem{"The temporary folder has no room for this list. Make room there, or use CSV.", "file"};
    const std::string mime = "application/vnd.oasis.opendocument.spreadsheet",
                      manifest = "<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n<manifest:manifest "
                                 "xmlns:manifest=\"urn:oasis:names:tc:opendocument:xmlns:manifest:1.0\" "
                                 "manifest:version=\"1.2\"><manifest:file-entry manifest:full-path=\"/\" "
                                 "manifest:version=\"1.2\" manifest:media-type=\"" +
                                 mime +
                                 "\"/><manifest:file-entry manifest:full-path=\"content.xml\" "
                                 "manifest:media-type=\"text/xml\"/></manifest:manifest>";
    return zipped(
        {{"mimetype", mime, true}, {"META-INF/manifest.xml", manifest}, {"content.xml", {}, false, file.path()}});
}

} // namespace vicinal
