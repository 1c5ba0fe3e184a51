package leanladder.server.csvimport;

import de.siegmar.fastcsv.reader.CsvParseException;
import de.siegmar.fastcsv.reader.CsvReader;
import de.siegmar.fastcsv.reader.CsvRecord;
import java.io.BufferedInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.InputStreamReader;
import java.io.Reader;
import java.io.UncheckedIOException;
import java.nio.charset.CharacterCodingException;
import java.nio.charset.CodingErrorAction;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.Iterator;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import leanladder.server.http.CsvResponse;
import leanladder.server.http.ProblemException;

/** The lines of a file with comma-separated values, each with the number that an editor shows beside it. */
public final class CsvLines {
    private static final int MOST_LINES = 200_000;
    private static final int LOOKED_AT = 64;

    private CsvLines() {}

    /** One line of the file by the columns that are read. */
    public record Line(long number, Map<String, String> cells) {
        /** What stands in a column; empty where nothing does. */
        public String get(String column) {
            return cells.getOrDefault(column, "");
        }
    }

    /** A file. @param headings as it writes them */
    public record CsvFile(List<String> headings, List<CsvColumns.ColumnMatch> columns, List<Line> lines) {}

    /**
     * Reads a file; a problem when it cannot be read. Empty lines are passed over, but counted.
     *
     * @param chosen see {@link CsvColumns}
     */
    public static CsvFile parse(InputStream file, CsvColumns columns, Optional<String> chosen) {
        BufferedInputStream bytes = new BufferedInputStream(file);
        String likely = likely(bytes);
        try (Reader text = new InputStreamReader(
                        bytes, StandardCharsets.UTF_8.newDecoder().onMalformedInput(CodingErrorAction.REPORT));
                CsvReader<CsvRecord> rows = CsvReader.builder()
                        .skipEmptyLines(true)
                        .allowExtraFields(true)
                        .allowMissingFields(true)
                        .ofCsvRecord(text)) {
            return file(rows.iterator(), columns, chosen);
        } catch (IOException | UncheckedIOException | CsvParseException e) {
            throw broken(e, likely);
        }
    }

    /** What the first bytes look like, for a file that turns out not to be UTF-8. */
    private static String likely(BufferedInputStream bytes) {
        try {
            bytes.mark(LOOKED_AT);
            byte[] first = bytes.readNBytes(LOOKED_AT);
            bytes.reset();
            boolean wide = false;
            for (byte b : first) wide |= b == 0;
            boolean marked = first.length > 1 && (first[0] & 0xFF) + (first[1] & 0xFF) == 0xFE + 0xFF;
            return wide || marked ? "UTF-16" : "Windows-1252, as older spreadsheets write it";
        } catch (IOException e) {
            return "another encoding";
        }
    }

    private static ProblemException broken(Exception e, String likely) {
        for (Throwable cause = e; cause != null; cause = cause.getCause()) {
            if (cause instanceof ProblemException problemException) return problemException;
            if (cause instanceof CharacterCodingException)
                return ProblemException.wrongInput("The file is not UTF-8 text; it looks like " + likely
                        + ". Save it as \"CSV UTF-8\" and send it again. Nothing was staged.");
        }
        return ProblemException.wrongInput("The file cannot be read as comma-separated values: "
                + String.valueOf(e.getMessage()).lines().findFirst().orElse("it is broken") + ". Nothing was staged.");
    }

    private static CsvFile file(Iterator<CsvRecord> rows, CsvColumns columns, Optional<String> chosen) {
        if (!rows.hasNext())
            throw ProblemException.wrongInput("The file is empty; its first line must name the columns.");
        List<String> headings = rows.next().getFields().stream()
                .map(h -> h.replace("\uFEFF", "").strip())
                .toList();
        List<CsvColumns.ColumnMatch> matches = columns.match(headings, chosen);
        Map<Integer, String> places = new HashMap<>();
        for (CsvColumns.ColumnMatch match : matches)
            match.heading().ifPresent(heading -> places.put(headings.indexOf(heading), match.column()));
        List<Line> lines = new ArrayList<>();
        while (rows.hasNext()) {
            CsvRecord row = rows.next();
            if (row.getFields().stream().allMatch(String::isBlank)) continue;
            Map<String, String> cells = new HashMap<>();
            places.forEach((place, column) -> {
                if (place < row.getFieldCount())
                    cells.put(column, CsvResponse.read(row.getField(place).strip()));
            });
            lines.add(new Line(row.getStartingLineNumber(), cells));
            if (lines.size() > MOST_LINES)
                throw ProblemException.wrongInput("The file has more than " + MOST_LINES + " lines; split it.");
        }
        return new CsvFile(headings, matches, lines);
    }
}
