package leanladder.server.draft;

import com.fasterxml.jackson.annotation.JsonInclude;
import com.fasterxml.jackson.annotation.JsonUnwrapped;
import com.fasterxml.jackson.databind.JsonNode;
import java.io.IOException;
import java.time.Instant;
import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import leanladder.catalogue.Catalogue;
import leanladder.json.JsonCursor;
import leanladder.resolve.EvaluationContext;
import leanladder.ripple.Ripple;
import leanladder.server.access.SelfServiceGuard;
import leanladder.server.draft.RippleFormatter.RippleCounts;
import leanladder.server.http.JsonRequestBody;
import leanladder.server.http.Limits;
import leanladder.server.http.ProblemException.DefectLine;
import leanladder.server.http.QueryParameters;
import leanladder.server.http.RequestContext;
import leanladder.server.http.Response;
import leanladder.server.http.RouteGroup;
import leanladder.server.http.RouteRegistry;
import leanladder.server.http.description.SchemaRef;
import leanladder.server.paging.AccountPage;
import leanladder.server.state.EditConflict;
import leanladder.server.state.Publisher;
import leanladder.server.state.RebasedDraft;
import leanladder.server.state.Receipt;
import leanladder.server.state.Timeline;
import leanladder.server.usage.UsageReader;
import leanladder.store.Store;
import leanladder.store.drafts.Draft;
import leanladder.store.drafts.DraftLine;
import leanladder.store.journal.Change;
import leanladder.text.EstateFormatter;
import leanladder.workingcopy.WriteSet;

/** Drafts: edits staged, read over, saved for later, opened again and published. */
public record DraftRoutes(
        Store store, Timeline timeline, DraftService drafts, UndoService undoService, UsageReader usage)
        implements RouteGroup {
    /** So many edits are told from either end of a draft, and so many of those between them that do not stand. */
    private static final int MOST_ITEMS = 500;

    private static Optional<String> added(JsonNode edit) {
        String kind = edit.path("kind").asText();
        return kind.startsWith("add-")
                ? Optional.of(edit.path(kind.substring("add-".length()))
                                .path("id")
                                .asText())
                        .filter(id -> !id.isEmpty())
                : Optional.empty();
    }

    private static final Map<String, Boolean> CHOICES = Map.of("mine", true, "theirs", false);

    /** Drafts: all that are planned, and those touched last. */
    public record DraftList(List<DraftLine> drafts) {}

    /**
     * An edit of a draft.
     *
     * @param words empty when it cannot be carried out
     * @param edit as it is written, where it conflicts or no longer fits
     * @param added the id that what the edit adds was given
     * @param cancelled whether another edit of the draft cancels it, and is cancelled by it; both are left out when it is published
     */
    public record DraftItem(
            int index,
            int step,
            String words,
            List<EditConflict> conflicts,
            List<DefectLine> refusals,

            @JsonInclude(JsonInclude.Include.NON_ABSENT) Optional<@SchemaRef("Edit") JsonNode> edit,
            Optional<String> added,
            boolean cancelled) {}

    /**
     * A draft carried onto the present estate.
     *
     * @param items its first edits and its last ones, and between them those that do not stand; of a draft that is not very long, all
     * @param troubled how many edits do not stand, those that are not told included
     * @param catalogue whether it changes what can be set
     */
    public record DraftView(
            @JsonUnwrapped DraftLine line,
            long change,
            List<DraftItem> items,
            int troubled,
            boolean stands,
            boolean undoable,
            boolean redoable,
            Set<String> policies,
            boolean catalogue,
            RippleCounts ripple) {}

    /** The receipt of a published change: what it altered, and when that will have taken effect. */
    public record PublishedReceipt(
            @JsonUnwrapped Receipt receipt,
            @SchemaRef("RippleSummary") JsonNode ripple,
            List<DraftReview.Settling> settling) {
        /** Of a change that was published as edits. @param catalogue says when what they altered takes effect */
        public static PublishedReceipt from(Change change, Catalogue catalogue) {
            Set<String> moved = new LinkedHashSet<>();
            change.ripple()
                    .path("moves")
                    .forEach(m -> moved.add(m.path("setting").asText()));
            return new PublishedReceipt(
                    Receipt.from(change),
                    change.ripple(),
                    DraftReview.settling(
                            moved.stream()
                                    .flatMap(key -> catalogue.setting(key).stream())
                                    .toList(),
                            catalogue));
        }
    }

    @Override
    public void routes(RouteRegistry routeRegistry) {
        routeRegistry.get("/drafts", requestContext -> list(requestContext), DraftList.class);
        routeRegistry.post("/drafts", this::begin, this::begun, DraftView.class);
        routeRegistry.get("/drafts/{id}", this::one, DraftView.class);
        routeRegistry.patch("/drafts/{id}", this::amend, this::again, DraftView.class);
        routeRegistry.delete("/drafts/{id}", this::discard, id -> Response.none());
        routeRegistry.post("/drafts/{id}/edits", this::stage, this::again, DraftView.class);
        routeRegistry.post(
                "/drafts/{id}/undo", requestContext -> turn(requestContext, true), this::again, DraftView.class);
        routeRegistry.post(
                "/drafts/{id}/redo", requestContext -> turn(requestContext, false), this::again, DraftView.class);
        routeRegistry.post("/drafts/{id}/choose", this::choose, this::again, DraftView.class);
        routeRegistry.get("/drafts/{id}/reading", this::reading, DraftReview.Review.class);
        routeRegistry.get(
                "/drafts/{id}/ripple", this::ripple, RippleFormatter.RippleView.class, AccountPage.PeopleList.class);
        routeRegistry.post(
                "/drafts/{id}/publish", this::publish, this::published, DraftView.class, PublishedReceipt.class);
    }

    private Response list(RequestContext requestContext) {
        requestContext.query(Set.of());
        return Response.of(new DraftList(drafts.lines()));
    }

    private Response begun(long draft) {
        return Response.created(view(drafts.draft(draft)));
    }

    private Response again(long draft) {
        return Response.of(view(drafts.draft(draft)));
    }

    /** The receipt of a change that was published before; or the draft, which was told to publish itself. */
    private Response published(long reference) {
        Optional<Change> change = store.journal().change(reference);
        return change.isPresent() ? receipt(change.get()) : again(reference);
    }

    private Response receipt(Change change) {
        return Response.created(
                PublishedReceipt.from(change, timeline.present().estate().catalogue()),
                RouteRegistry.ROOT + "/changes/" + change.number());
    }

    /** A new draft: empty, with the edits that take a change or one of its edits back, or with those that restore a policy. */
    private Response begin(RequestContext requestContext) throws IOException {
        requestContext.query(Set.of());
        timeline.present();
        JsonRequestBody jsonRequestBody = requestContext.jsonRequestBody();
        String name = name(jsonRequestBody);
        Optional<Long> takesBack = jsonRequestBody.root().member("takesBack").flatMap(JsonRequestBody::number);
        Optional<Long> edit = jsonRequestBody.root().member("edit").flatMap(JsonRequestBody::number);
        Optional<JsonCursor> restores = jsonRequestBody.root().member("restores");
        Optional<String> policy = restores.flatMap(r -> r.required("policy")).flatMap(JsonCursor::id);
        Optional<Instant> at = restores.flatMap(r -> r.required("at")).flatMap(JsonCursor::instant);
        jsonRequestBody.refuseDefects();
        if (restores.isPresent()) return restore(requestContext, name, policy.orElseThrow(), at.orElseThrow());
        if (takesBack.isEmpty()) return Response.created(view(drafts.begin(requestContext.writeRequest(), name)));
        Change change = undoService.change(takesBack.get());
        List<JsonNode> inverse =
                edit.isPresent() ? undoService.of(change, edit.get().intValue()) : undoService.of(change);
        SelfServiceGuard.refuseUndo(inverse, timeline.present().estate());
        String title = change.note().isBlank() ? "" : ": " + change.note();
        String note = edit.isPresent()
                ? "Undoes one edit of change " + change.number() + ": "
                        + change.words().path(edit.get().intValue()).asText()
                : "Takes back change " + change.number() + title;
        return Response.created(
                view(drafts.begin(requestContext.writeRequest(), name, shortened(note), inverse, change.number())));
    }

    private Response restore(RequestContext requestContext, String name, String policy, Instant at) {
        List<JsonNode> edits = undoService.restoration(policy, at);
        String note = "Restores "
                + timeline.snapshotAt(at)
                        .estate()
                        .policy(policy)
                        .map(p -> "“" + p.name() + "”")
                        .orElse(policy)
                + " as of "
                + new EstateFormatter(timeline.present().estate(), timeline.now()).moment(at);
        return Response.created(view(drafts.begin(
                requestContext.writeRequest(),
                name,
                shortened(note),
                edits,
                timeline.present().change())));
    }

    private static String shortened(String note) {
        return note.substring(0, Math.min(note.length(), Limits.NOTE));
    }

    private Response one(RequestContext requestContext) {
        requestContext.query(Set.of());
        return Response.of(view(drafts.draft(requestContext.number("id", "draft"))));
    }

    private DraftView view(Draft draft) {
        RebasedDraft rebasedDraft = drafts.rebased(draft);
        int all = rebasedDraft.items().size();
        List<DraftItem> items = new ArrayList<>();
        int step = 0;
        int index = 0;
        int troubled = 0;
        for (Draft.Step together : draft.steps()) {
            for (int i = 0; i < together.items().size(); i++, index++) {
                RebasedDraft.ProposedEdit proposedEdit = rebasedDraft.items().get(index);
                boolean atAnEnd = index < MOST_ITEMS || index >= all - MOST_ITEMS;
                if (!proposedEdit.stands()) troubled++;
                if (!atAnEnd && (proposedEdit.stands() || troubled > MOST_ITEMS)) continue;
                items.add(new DraftItem(
                        index,
                        step,
                        proposedEdit.words(),
                        proposedEdit.conflicts(),
                        DefectLine.of(proposedEdit.refusals()),
                        proposedEdit.stands() ? Optional.empty() : Optional.of(proposedEdit.edit()),
                        proposedEdit.journalForm().flatMap(DraftRoutes::added),
                        rebasedDraft.cancelled().get(index)));
            }
            step++;
        }
        WriteSet touched = rebasedDraft.editSession().writeSet();
        return new DraftView(
                DraftService.line(draft, rebasedDraft),
                rebasedDraft.base().change(),
                items,
                troubled,
                rebasedDraft.stands(),
                !draft.steps().isEmpty(),
                !draft.undone().isEmpty(),
                rebasedDraft.policies(),
                touched.frame() || !touched.catalogue().isEmpty(),
                RippleFormatter.from(rebasedDraft).counts());
    }

    private Response amend(RequestContext requestContext) throws IOException {
        JsonRequestBody jsonRequestBody = requestContext.jsonRequestBody();
        Draft draft = drafts.draft(requestContext.number("id", "draft"), jsonRequestBody.version());
        String name = jsonRequestBody.root().member("name").isPresent() ? name(jsonRequestBody) : draft.name();
        String note = jsonRequestBody.root().member("note").isPresent()
                ? jsonRequestBody.text("note", Limits.NOTE).orElse("")
                : draft.note();
        boolean unschedules = jsonRequestBody.root().member("due").isPresent();
        jsonRequestBody
                .member("due")
                .ifPresent(p ->
                        p.defect("can only be null here; publish the draft with \"at\" to have it publish itself"));
        jsonRequestBody.refuseDefects();
        return Response.of(view(drafts.amend(
                requestContext.writeRequest(),
                draft,
                name,
                note,
                unschedules ? Optional.empty() : draft.due(),
                unschedules ? Optional.empty() : draft.stuck())));
    }

    private Response discard(RequestContext requestContext) {
        QueryParameters queryParameters = requestContext.query(Set.of("version"));
        Draft draft = drafts.draft(
                requestContext.number("id", "draft"), queryParameters.number("version", 1, Integer.MAX_VALUE));
        drafts.discard(requestContext.writeRequest(), draft);
        return Response.none();
    }

    /** Stages edits as one step; when one of them does not fit none is staged. */
    private Response stage(RequestContext requestContext) throws IOException {
        JsonRequestBody jsonRequestBody = requestContext.sent(Limits.BATCH);
        Draft draft = drafts.draft(requestContext.number("id", "draft"), jsonRequestBody.version());
        List<JsonNode> edits = new ArrayList<>();
        List<JsonCursor> places =
                jsonRequestBody.root().required("edits").map(JsonCursor::items).orElse(List.of());
        places.forEach(jsonCursor -> edits.add(jsonCursor.node()));
        SelfServiceGuard.refuse(places, timeline.present().estate());
        if (jsonRequestBody.defects().isEmpty() && edits.isEmpty())
            jsonRequestBody.root().member("edits").orElseThrow().defect("must hold at least one edit");
        jsonRequestBody.refuseDefects();
        return Response.of(view(drafts.stage(requestContext.writeRequest(), draft, edits)));
    }

    private Response turn(RequestContext requestContext, boolean back) throws IOException {
        JsonRequestBody jsonRequestBody = requestContext.jsonRequestBody();
        Draft draft = drafts.draft(requestContext.number("id", "draft"), jsonRequestBody.version());
        return Response.of(view(drafts.undoOrRedo(requestContext.writeRequest(), draft, back)));
    }

    /** Decides about one edit that conflicts or no longer fits. */
    private Response choose(RequestContext requestContext) throws IOException {
        JsonRequestBody jsonRequestBody = requestContext.jsonRequestBody();
        Draft draft = drafts.draft(requestContext.number("id", "draft"), jsonRequestBody.version());
        Optional<Long> index = jsonRequestBody.root().required("index").flatMap(JsonRequestBody::number);
        Optional<Boolean> mine = jsonRequestBody.root().required("keep").flatMap(p -> p.word(CHOICES));
        jsonRequestBody.refuseDefects();
        return Response.of(view(drafts.resolveConflict(
                requestContext.writeRequest(),
                draft,
                (int) Math.min(index.orElseThrow(), Integer.MAX_VALUE),
                mine.orElseThrow())));
    }

    /** Everything that one reads before publishing. */
    private Response reading(RequestContext requestContext) {
        requestContext.query(Set.of());
        Draft draft = drafts.draft(requestContext.number("id", "draft"));
        return Response.of(new DraftReview(drafts.rebased(draft), draft.author(), usage).review());
    }

    /** The people of the ripple, page by page; at another instant or for a workspace too. */
    private Response ripple(RequestContext requestContext) {
        QueryParameters queryParameters = requestContext.query(Set.of(
                "limit", "after", "effect", "at", "workspace", "setting", "from", "to", "part", "unit", "format"));
        RebasedDraft rebasedDraft = drafts.rebased(drafts.draft(requestContext.number("id", "draft")));
        Optional<Instant> at = queryParameters.instant(
                "at", rebasedDraft.base().estate().organisation().zone());
        Optional<String> workspace = queryParameters.one("workspace");
        workspace
                .filter(w -> rebasedDraft.snapshot().estate().workspace(w).isEmpty())
                .ifPresent(w -> {
                    throw leanladder.server.http.ProblemException.unknown("There is no workspace \"" + w + "\".");
                });
        Ripple ripple = at.isEmpty() && workspace.isEmpty()
                ? rebasedDraft.ripple()
                : rebasedDraft.ripple(new EvaluationContext(at.orElse(timeline.now()), workspace));
        return Response.of(new RippleFormatter(ripple, timeline.now(), Map.of())
                .people(rebasedDraft.base().change(), queryParameters, usage));
    }

    /** Publishes now, or leaves the draft to publish itself at an instant. */
    private Response publish(RequestContext requestContext) throws IOException {
        JsonRequestBody jsonRequestBody = requestContext.jsonRequestBody();
        Draft draft = drafts.draft(requestContext.number("id", "draft"), jsonRequestBody.version());
        String note = jsonRequestBody.text("note", Limits.NOTE).orElse("");
        Optional<JsonCursor> at = jsonRequestBody.member("at");
        Optional<Instant> due = at.flatMap(JsonCursor::instant);
        due.filter(d -> !d.isAfter(timeline.now()))
                .ifPresent(d -> at.get().defect("lies in the past; leave it out to publish now"));
        jsonRequestBody.refuseDefects();
        if (due.isPresent()) {
            DraftService.checkReady(drafts.rebased(draft));
            return Response.of(view(
                    drafts.amend(requestContext.writeRequest(), draft, draft.name(), note, due, Optional.empty())));
        }
        Publisher.PublishResult publishResult =
                drafts.publish(requestContext.writeRequest(), draft, note, Optional.empty());
        return receipt(publishResult.change());
    }

    private static String name(JsonRequestBody jsonRequestBody) {
        return jsonRequestBody.text("name", Limits.NAME).map(String::strip).orElse("");
    }
}
