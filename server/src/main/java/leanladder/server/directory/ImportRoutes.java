package leanladder.server.directory;

import java.io.IOException;
import java.util.List;
import java.util.Set;
import leanladder.change.Book;
import leanladder.server.draft.Inquiry;
import leanladder.server.http.Answer;
import leanladder.server.http.Api;
import leanladder.server.http.Call;
import leanladder.server.http.Limits;
import leanladder.server.http.Problem;
import leanladder.server.http.Query;
import leanladder.server.http.Room;
import leanladder.server.lines.CsvLines;
import leanladder.server.lines.CsvLines.Line;
import leanladder.server.lines.LineReport;
import leanladder.server.live.Snapshot;
import leanladder.server.live.Timeline;

/**
 * Reads people, units or group members from comma-separated values. Every line is reported before anything is staged; the answer
 * holds the one batch edit that stages those lines that fit.
 */
public record ImportRoutes(Timeline timeline, Inquiry.Reader inquiries) implements Room {
    @Override
    public void routes(Api api) {
        api.ask("/imports/{what}", this::read, LineReport.Imported.class);
    }

    private Answer read(Call call) throws IOException {
        Query query = call.query(Set.of("draft", "name"));
        String what = call.path("what");
        if (!Set.of("people", "units", "members").contains(what))
            throw Problem.unknown("Only people, units and members can be read from a file.");
        Snapshot snapshot = inquiries.of(query).snapshot();
        List<Line> lines = CsvLines.of(call.body(Limits.FILE));
        Book book = timeline.book(snapshot);
        LineReader reader = new LineReader(snapshot, book, what, lines);
        return Answer.of(LineReport.of(lines, book, query.one("name").orElse("a file"), reader::read));
    }
}
