package leanladder.server;

import com.fasterxml.jackson.databind.SequenceWriter;
import com.fasterxml.jackson.dataformat.csv.CsvGenerator;
import com.fasterxml.jackson.dataformat.csv.CsvMapper;
import io.javalin.http.Context;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.util.Arrays;

/**
 * Writes a list as comma-separated values (RFC 4180), line by line. A text that a spreadsheet would take for a formula gets an
 * apostrophe in front, which {@link #read} takes away again.
 */
final class Csv {
    private static final String STARTS_FORMULA = "=+-@\t\r";
    private static final CsvMapper MAPPER = CsvMapper.builder()
            .enable(CsvGenerator.Feature.STRICT_CHECK_FOR_QUOTING)
            .build();

    private final SequenceWriter out;

    /** Starts the answer with the names of the columns. */
    Csv(Context ctx, String file, String... columns) {
        ctx.contentType("text/csv; charset=utf-8");
        ctx.header("Content-Disposition", "attachment; filename=\"" + file + "\"");
        try {
            out = MAPPER.writer().writeValues(ctx.outputStream());
            out.write(columns);
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    void line(String... cells) {
        try {
            out.write(Arrays.stream(cells).map(Csv::guarded).toArray(String[]::new));
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    void end() {
        try {
            out.flush();
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    private static String guarded(String cell) {
        return !cell.isEmpty() && STARTS_FORMULA.indexOf(cell.charAt(0)) >= 0 ? "'" + cell : cell;
    }

    /** A cell as it was before {@link #line} guarded it. */
    static String read(String cell) {
        boolean guarded = cell.length() > 1 && cell.charAt(0) == '\'' && STARTS_FORMULA.indexOf(cell.charAt(1)) >= 0;
        return guarded ? cell.substring(1) : cell;
    }
}
