package leanladder.server.http;

import de.siegmar.fastcsv.writer.CsvWriter;
import de.siegmar.fastcsv.writer.LineDelimiter;
import java.io.IOException;
import java.io.OutputStream;
import java.util.Arrays;
import java.util.List;

/**
 * A list as comma-separated values (RFC 4180), written line by line. A text that a spreadsheet would take for a formula gets an
 * apostrophe in front, which {@link #read} takes away again.
 *
 * @param file what it is called when it is kept
 * @param lines made while they are written, outside of whatever others wait for
 */
public record CsvResponse(String file, List<String> headings, Iterable<List<String>> lines) {
    /** The signs, also as wide as other scripts write them. */
    private static final String SIGNS = "=+-@\uFF1D\uFF0B\uFF0D\uFF20";

    void writeTo(OutputStream to) throws IOException {
        try (CsvWriter out = CsvWriter.builder().lineDelimiter(LineDelimiter.LF).build(to)) {
            out.writeRecord(guarded(headings));
            for (List<String> line : lines) out.writeRecord(guarded(line));
        }
    }

    private static List<String> guarded(List<String> line) {
        return line.stream().map(CsvResponse::guarded).toList();
    }

    private static String guarded(String cell) {
        return isFormula(cell) ? "'" + cell : cell;
    }

    /** Whether a spreadsheet could take it for a formula: it begins with a sign, maybe after blanks, tabs or line breaks. */
    private static boolean isFormula(String cell) {
        String text = cell.stripLeading();
        if (text.isEmpty()) return false;
        char first = cell.charAt(0);
        return SIGNS.indexOf(text.charAt(0)) >= 0 || first == '\t' || first == '\r' || first == '\n';
    }

    /** A cell as it was before it was guarded. */
    public static String read(String cell) {
        boolean guarded = cell.length() > 1 && cell.charAt(0) == '\'' && isFormula(cell.substring(1));
        return guarded ? cell.substring(1) : cell;
    }

    /** The cells of a line. */
    public static List<String> line(String... cells) {
        return Arrays.asList(cells);
    }
}
