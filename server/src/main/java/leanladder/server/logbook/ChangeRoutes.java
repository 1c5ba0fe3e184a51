package leanladder.server.logbook;

import com.fasterxml.jackson.annotation.JsonUnwrapped;
import com.fasterxml.jackson.databind.JsonNode;
import java.io.IOException;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import leanladder.edit.session.EditKinds;
import leanladder.json.Defects;
import leanladder.json.JsonCursor;
import leanladder.server.access.SelfServiceGuard;
import leanladder.server.draft.DraftRoutes.PublishedReceipt;
import leanladder.server.draft.RippleFormatter;
import leanladder.server.draft.UndoService;
import leanladder.server.http.CsvResponse;
import leanladder.server.http.JsonRequestBody;
import leanladder.server.http.Limits;
import leanladder.server.http.ProblemException;
import leanladder.server.http.QueryParameters;
import leanladder.server.http.RequestContext;
import leanladder.server.http.Response;
import leanladder.server.http.RouteGroup;
import leanladder.server.http.RouteRegistry;
import leanladder.server.http.description.SchemaRef;
import leanladder.server.state.EditConflict;
import leanladder.server.state.Publisher;
import leanladder.server.state.RebasedDraft;
import leanladder.server.state.Receipt;
import leanladder.server.state.Timeline;
import leanladder.store.Store;
import leanladder.store.journal.Change;

/** The logbook, and publishing without a draft. */
public record ChangeRoutes(Store store, Timeline timeline, Publisher publisher, UndoService undoService)
        implements RouteGroup {
    private static final int CHANGES_SHOWN = 50;
    private static final int MOST_CHANGES = 500;
    private static final int MOST_EXPORTED = 10_000;

    /**
     * A change in the logbook.
     *
     * @param title its note, or where it has none, what its first edit does
     * @param accounts how many it changed, where that was worked out
     * @param workspaces in how many workspaces it changed something
     */
    public record LogbookLine(
            @JsonUnwrapped Receipt receipt, String title, int edits, Optional<Integer> accounts, int workspaces) {
        static LogbookLine of(Change change) {
            int more = change.words().size() - 1;
            String first = change.words().path(0).asText();
            return new LogbookLine(
                    Receipt.from(change),
                    !change.note().isEmpty() ? change.note() : more > 0 ? first + " (and " + more + " more)" : first,
                    change.edits().size(),
                    Optional.of(change.ripple().path("accounts"))
                            .filter(JsonNode::isInt)
                            .map(JsonNode::intValue),
                    change.ripple().path("inWorkspaces").size());
        }

        private List<String> cells() {
            return CsvResponse.line(
                    String.valueOf(receipt.number()),
                    receipt.at().toString(),
                    receipt.author(),
                    title,
                    String.valueOf(edits),
                    accounts.map(String::valueOf).orElse(""));
        }
    }

    /**
     * A page of the logbook, newest first.
     *
     * @param next to be sent as before; null on the last page
     * @param about what is asked about is called so now, by its parameter; what exists no longer is left out
     */
    public record Logbook(List<LogbookLine> changes, Optional<Long> next, Map<String, String> about) {}

    /** A change with its edits, as they were written and as they read then, and its ripple as it was. */
    public record PublishedChange(
            @JsonUnwrapped Receipt receipt,
            List<JsonNode> edits,
            List<String> words,
            Optional<@SchemaRef("RippleSummary") JsonNode> ripple) {}

    /** The edits that take a change back, on the base of that change. */
    public record InverseEdits(long base, List<@SchemaRef("Edit") JsonNode> edits) {}

    @Override
    public void routes(RouteRegistry routeRegistry) {
        routeRegistry.get("/changes", this::list, Logbook.class);
        routeRegistry.post(
                "/changes", this::publish, this::again, RippleFormatter.RippleView.class, PublishedReceipt.class);
        routeRegistry.get("/changes/{number}", this::one, PublishedChange.class);
        routeRegistry.get("/changes/{number}/inverse", this::inverse, InverseEdits.class);
    }

    private Response list(RequestContext requestContext) {
        Set<String> parameters = new HashSet<>(LogbookFilter.PARAMETERS);
        parameters.addAll(Set.of("before", "limit", "format"));
        QueryParameters queryParameters = requestContext.query(parameters);
        LogbookFilter filter = new LogbookFilter(store, timeline, queryParameters);
        boolean csv = queryParameters.isCsv();
        int limit = queryParameters.number(
                "limit", csv ? MOST_EXPORTED : CHANGES_SHOWN, csv ? MOST_EXPORTED : MOST_CHANGES);
        LogbookFilter.Page page =
                filter.before(queryParameters.number("before", Integer.MAX_VALUE, Integer.MAX_VALUE), limit);
        List<LogbookLine> lines = page.changes().stream().map(LogbookLine::of).toList();
        return csv
                ? Response.of(new CsvResponse(
                        "logbook.csv",
                        CsvResponse.line("change", "at", "author", "title", "edits", "accounts"),
                        lines.stream().map(LogbookLine::cells).toList()))
                : Response.of(new Logbook(lines, page.next(), filter.names()));
    }

    private Response one(RequestContext requestContext) {
        Change found = undoService.change(requestContext.number("number", "change"));
        List<JsonNode> edits = new ArrayList<>();
        found.edits().forEach(edits::add);
        List<String> words = new ArrayList<>();
        found.words().forEach(w -> words.add(w.asText()));
        return Response.of(new PublishedChange(
                Receipt.from(found),
                edits,
                words,
                Optional.of(found.ripple()).filter(r -> r.has("accounts")).map(RippleFormatter::summary)));
    }

    private Response inverse(RequestContext requestContext) {
        Change change = undoService.change(requestContext.number("number", "change"));
        return Response.of(new InverseEdits(change.number(), undoService.of(change)));
    }

    private Response again(long number) {
        return receipt(undoService.change(number));
    }

    /** Publishes edits as one change; with {@code preview}, tells their ripple and stores nothing. */
    private Response publish(RequestContext requestContext) throws IOException {
        QueryParameters queryParameters = requestContext.query(Set.of("preview", "limit", "after", "effect"));
        JsonRequestBody jsonRequestBody = requestContext.sent(Limits.BATCH);
        timeline.present();
        Optional<Long> base = jsonRequestBody
                .root()
                .required("base")
                .flatMap(JsonCursor::integer)
                .map(b -> b.bitLength() < 63 ? b.longValue() : -1);
        base.filter(b -> b < 0 || b > timeline.change())
                .ifPresent(b -> jsonRequestBody
                        .root()
                        .member("base")
                        .orElseThrow()
                        .defect("must be the number of a published change; the last is " + timeline.change()));
        String note = jsonRequestBody.text("note", Limits.NOTE).orElse("");
        Optional<JsonCursor> list = jsonRequestBody.root().required("edits");
        List<JsonCursor> places = list.map(JsonCursor::items).orElse(List.of());
        if (list.isPresent() && list.get().node().isArray() && places.isEmpty())
            list.get().defect("must hold at least one edit");
        // What is malformed would be reported as a conflict, were it first compared with what was published since.
        places.forEach(EditKinds::read);
        SelfServiceGuard.refuse(places, timeline.present().estate());
        if (!jsonRequestBody.defects().isEmpty())
            throw ProblemException.defects(
                    422, "Not a change", jsonRequestBody.defects().all());

        RebasedDraft rebasedDraft = timeline.rebasedDraft()
                .with(
                        places.stream()
                                .map(p -> new RebasedDraft.RequestedEdit(p.node(), base.get()))
                                .toList(),
                        "/edits",
                        0);
        if (queryParameters.has("preview")) {
            refuse(rebasedDraft);
            return Response.of(
                    RippleFormatter.from(rebasedDraft).view(rebasedDraft.base().change(), queryParameters));
        }
        Publisher.PublishOptions publishOptions = new Publisher.PublishOptions(
                requestContext.writeRequest().actor(),
                note,
                p -> RippleFormatter.from(p).journalled(),
                Optional.empty(),
                Optional.empty());
        Publisher.PublishResult publishResult =
                publisher.publish(requestContext.writeRequest(), rebasedDraft, publishOptions, this::refuse);
        return receipt(publishResult.change());
    }

    private Response receipt(Change change) {
        return Response.created(
                PublishedReceipt.from(change, timeline.present().estate().catalogue()),
                RouteRegistry.ROOT + "/changes/" + change.number());
    }

    /** Refuses edits that conflict with what was published since, and edits that do not fit. */
    private void refuse(RebasedDraft rebasedDraft) {
        List<EditConflict> conflicts = rebasedDraft.items().stream()
                .flatMap(i -> i.conflicts().stream())
                .toList();
        if (!conflicts.isEmpty())
            throw ProblemException.refused(
                            409,
                            "Base moved",
                            "Somebody published meanwhile and touched the same parts; nothing was stored. The estate stands at change "
                                    + rebasedDraft.base().change() + ".")
                    .with("conflicts", conflicts)
                    .with("change", rebasedDraft.base().change());
        Defects defects = new Defects();
        rebasedDraft.items().forEach(i -> i.refusals().forEach(d -> defects.add(d.pointer(), d.message())));
        if (!defects.isEmpty()) throw ProblemException.defects(422, "Refused", defects.all());
    }
}
