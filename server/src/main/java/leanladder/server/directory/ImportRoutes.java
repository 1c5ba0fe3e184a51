package leanladder.server.directory;

import com.fasterxml.jackson.annotation.JsonProperty;
import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.ArrayList;
import java.util.EnumMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import leanladder.change.Batch;
import leanladder.document.Json;
import leanladder.server.directory.CsvLines.Line;
import leanladder.server.directory.LineReader.ImportVerdict;
import leanladder.server.draft.Inquiry;
import leanladder.server.http.Answer;
import leanladder.server.http.Api;
import leanladder.server.http.Call;
import leanladder.server.http.Limits;
import leanladder.server.http.Problem;
import leanladder.server.http.Query;
import leanladder.server.http.Room;
import leanladder.server.http.Shape;
import leanladder.server.live.Snapshot;
import leanladder.server.live.Timeline;

/**
 * Reads people, units or group members from comma-separated values. Every line is reported before anything is staged; the answer
 * holds the one batch edit that stages those lines that fit.
 */
public record ImportRoutes(Timeline timeline, Inquiry.Reader inquiries) implements Room {
    /** What becomes of a line. @param line as an editor numbers it */
    public record ImportedLine(long line, ImportVerdict verdict, String told) {}

    /** How many lines become what. */
    public record ImportedCounts(@JsonProperty("new") int fresh, int altered, int same, int refused) {}

    /** The report of a file. @param edit stages the lines that fit; null where none does */
    public record Imported(List<ImportedLine> lines, ImportedCounts counts, Optional<@Shape("Edit") JsonNode> edit) {}

    @Override
    public void routes(Api api) {
        api.ask("/imports/{what}", this::read, Imported.class);
    }

    private Answer read(Call call) {
        Query query = call.query(Set.of("draft", "name"));
        String what = call.path("what");
        if (!Set.of("people", "units", "members").contains(what))
            throw Problem.unknown("Only people, units and members can be read from a file.");
        Snapshot snapshot = inquiries.of(query).snapshot();
        List<Line> lines = CsvLines.of(call.body(Limits.FILE));
        LineReader reader = new LineReader(snapshot, timeline.book(snapshot), what, lines);
        ObjectNode batch = Json.NODES
                .objectNode()
                .put("kind", Batch.KIND.name())
                .put("source", query.one("name").orElse("a file"));
        ArrayNode edits = batch.putArray("edits");
        Map<ImportVerdict, Integer> counts = new EnumMap<>(ImportVerdict.class);
        List<ImportedLine> told = new ArrayList<>(lines.size());
        for (Line line : lines) {
            LineReader.Verdict verdict = reader.next(line);
            counts.merge(verdict.outcome(), 1, Integer::sum);
            told.add(new ImportedLine(line.number(), verdict.outcome(), verdict.told()));
            verdict.edit().ifPresent(edits::add);
        }
        return Answer.of(new Imported(
                told,
                new ImportedCounts(
                        counts.getOrDefault(ImportVerdict.NEW, 0),
                        counts.getOrDefault(ImportVerdict.ALTERED, 0),
                        counts.getOrDefault(ImportVerdict.SAME, 0),
                        counts.getOrDefault(ImportVerdict.REFUSED, 0)),
                edits.isEmpty() ? Optional.empty() : Optional.of(batch)));
    }
}
