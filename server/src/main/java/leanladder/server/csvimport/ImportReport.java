package leanladder.server.csvimport;

import com.fasterxml.jackson.annotation.JsonProperty;
import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.ArrayList;
import java.util.EnumMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.function.Function;
import leanladder.edit.session.BatchEdit;
import leanladder.edit.session.EditSession;
import leanladder.json.Defects;
import leanladder.json.Json;
import leanladder.json.JsonCursor;
import leanladder.server.csvimport.CsvLines.Line;
import leanladder.server.http.description.SchemaRef;

/**
 * What becomes of the lines of a file. Every line is reported before anything is staged, each after those before it; the report holds the
 * one batch edit that stages the lines that fit.
 */
public final class ImportReport {
    private ImportReport() {}

    /** What becomes of a line. */
    public enum ImportVerdict {
        NEW,
        ALTERED,
        SAME,
        REFUSED
    }

    /** What becomes of a line: an edit, nothing because all is so already, or a reason why it cannot be. */
    public record Verdict(ImportVerdict outcome, String told, Optional<ObjectNode> edit) {
        /** Of a line that makes something new. */
        public static Verdict fresh(String told, ObjectNode edit) {
            return new Verdict(ImportVerdict.NEW, told, Optional.of(edit));
        }

        /** Of a line that alters something. */
        public static Verdict altered(String told, ObjectNode edit) {
            return new Verdict(ImportVerdict.ALTERED, told, Optional.of(edit));
        }

        /** Of a line that says what is so already. */
        public static Verdict same(String told) {
            return new Verdict(ImportVerdict.SAME, told, Optional.empty());
        }

        private static Verdict refused(String why) {
            return new Verdict(ImportVerdict.REFUSED, why, Optional.empty());
        }
    }

    /** Says why a line is refused, in a sentence. */
    public static final class RefusedLine extends RuntimeException {
        private static final long serialVersionUID = 1;

        public RefusedLine(String why) {
            super(why, null, false, false);
        }
    }

    /** What becomes of a line. @param line as an editor numbers it */
    public record ImportedLine(long line, ImportVerdict verdict, String told) {}

    /** How many lines become what. */
    public record ImportedCounts(@JsonProperty("new") int fresh, int altered, int same, int refused) {}

    /**
     * The report of a file.
     *
     * @param headings as the file writes them
     * @param columns what was read from which heading
     * @param edit stages the lines that fit; null where none does
     */
    public record ImportResult(
            List<String> headings,
            List<CsvColumns.ColumnMatch> columns,
            List<ImportedLine> lines,
            ImportedCounts counts,
            Optional<@SchemaRef("Edit") JsonNode> edit) {}

    /**
     * Reads the lines of a file. Linear in them.
     *
     * @param editSession takes the edits of the lines that fit
     * @param source what the file is called
     * @param read reads one line against the edit session as the lines before it left it; it may throw {@link RefusedLine}
     */
    public static ImportResult compute(
            CsvLines.CsvFile file, EditSession editSession, String source, Function<Line, Verdict> read) {
        ObjectNode batch =
                Json.NODES.objectNode().put("kind", BatchEdit.KIND.name()).put("source", source);
        ArrayNode edits = batch.putArray("edits");
        Map<ImportVerdict, Integer> counts = new EnumMap<>(ImportVerdict.class);
        List<ImportedLine> told = new ArrayList<>(file.lines().size());
        for (Line line : file.lines()) {
            Verdict verdict = next(line, editSession, read);
            counts.merge(verdict.outcome, 1, Integer::sum);
            told.add(new ImportedLine(line.number(), verdict.outcome, verdict.told));
            verdict.edit.ifPresent(edits::add);
        }
        return new ImportResult(
                file.headings(),
                file.columns(),
                told,
                new ImportedCounts(
                        counts.getOrDefault(ImportVerdict.NEW, 0),
                        counts.getOrDefault(ImportVerdict.ALTERED, 0),
                        counts.getOrDefault(ImportVerdict.SAME, 0),
                        counts.getOrDefault(ImportVerdict.REFUSED, 0)),
                edits.isEmpty() ? Optional.empty() : Optional.of(batch));
    }

    /** The verdict on the next line; an edit that fits is carried out for those after it. */
    private static Verdict next(Line line, EditSession editSession, Function<Line, Verdict> read) {
        try {
            Verdict verdict = read.apply(line);
            if (verdict.edit.isEmpty()) return verdict;
            Defects defects = new Defects();
            if (editSession
                    .apply(new JsonCursor(verdict.edit.get(), "", defects))
                    .isPresent()) return verdict;
            return Verdict.refused(defects.all().stream()
                    .map(d -> d.pointer().replaceAll(".*/", "") + " " + d.message())
                    .findFirst()
                    .map(t -> Character.toUpperCase(t.charAt(0)) + t.substring(1) + ".")
                    .orElse("It does not fit."));
        } catch (RefusedLine refusedLine) {
            return Verdict.refused(Objects.requireNonNull(refusedLine.getMessage()));
        }
    }
}
