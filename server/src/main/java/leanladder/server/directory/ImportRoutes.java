package leanladder.server.directory;

import java.io.IOException;
import java.util.Set;
import leanladder.edit.session.EditSession;
import leanladder.server.csvimport.CsvLines;
import leanladder.server.csvimport.ImportReport;
import leanladder.server.http.Limits;
import leanladder.server.http.ProblemException;
import leanladder.server.http.QueryParameters;
import leanladder.server.http.RequestContext;
import leanladder.server.http.Response;
import leanladder.server.http.RouteGroup;
import leanladder.server.http.RouteRegistry;
import leanladder.server.query.QueryContext;
import leanladder.server.state.Snapshot;
import leanladder.server.state.Timeline;

/**
 * Reads people, units, group members or devices from comma-separated values. Every line is reported before anything is staged; the answer
 * holds the one batch edit that stages those lines that fit.
 */
public record ImportRoutes(Timeline timeline, QueryContext.Reader queries) implements RouteGroup {
    @Override
    public void routes(RouteRegistry routeRegistry) {
        routeRegistry.postReadOnly("/imports/{what}", this::read, ImportReport.ImportResult.class);
    }

    private Response read(RequestContext requestContext) throws IOException {
        QueryParameters queryParameters = requestContext.query(Set.of("draft", "name", "columns"));
        String what = requestContext.path("what");
        if (!Set.of("people", "units", "members", "devices").contains(what))
            throw ProblemException.unknown("Only people, units, members and devices can be read from a file.");
        Snapshot snapshot = queries.read(queryParameters).snapshot();
        CsvLines.CsvFile file = CsvLines.parse(
                requestContext.body(Limits.FILE), ImportRowParser.columns(what), queryParameters.one("columns"));
        EditSession editSession = timeline.editSession(snapshot);
        ImportRowParser reader = new ImportRowParser(snapshot, editSession, what, file.lines());
        return Response.of(ImportReport.compute(
                file, editSession, queryParameters.one("name").orElse("a file"), reader::read));
    }
}
