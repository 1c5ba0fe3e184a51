package leanladder.server.directory;

import com.fasterxml.jackson.annotation.JsonInclude;
import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.io.IOException;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Predicate;
import java.util.stream.Stream;
import leanladder.catalogue.AccountKind;
import leanladder.edit.directory.AddMembers;
import leanladder.edit.directory.RemoveMembers;
import leanladder.edit.policy.PutAssignment;
import leanladder.edit.policy.RemoveAssignment;
import leanladder.edit.seat.AssignSeats;
import leanladder.edit.seat.RevokeSeats;
import leanladder.edit.session.BatchEdit;
import leanladder.estate.Account;
import leanladder.estate.Assignment;
import leanladder.estate.Estate;
import leanladder.estate.Group;
import leanladder.estate.Policy;
import leanladder.estate.Target;
import leanladder.json.Json;
import leanladder.json.JsonCursor;
import leanladder.seat.Allocation;
import leanladder.server.http.JsonRequestBody;
import leanladder.server.http.Limits;
import leanladder.server.http.RequestContext;
import leanladder.server.http.Response;
import leanladder.server.http.RouteGroup;
import leanladder.server.http.RouteRegistry;
import leanladder.server.http.description.SchemaRef;
import leanladder.server.query.QueryContext;

/**
 * Many accounts at once: a pasted list is looked through line by line, and every line is reported, before anything is staged.
 * The answer holds the edit that stages those lines that can be.
 */
public record PasteRoutes(QueryContext.Reader queries) implements RouteGroup {
    private static final int MOST_LINES = 100_000;

    /** What becomes of a pasted line. */
    public enum PastedVerdict {
        FITS,
        UNKNOWN,
        AMBIGUOUS,
        INACTIVE,
        WRONG_KIND,
        ALREADY_IN,
        NOT_IN,
        REPEATED
    }

    /** A pasted line. @param name of the account that it means @param why it does not fit, in a sentence */
    public record PastedLine(
            int line,
            String text,
            Optional<String> name,
            PastedVerdict verdict,
            String why,

            @JsonInclude(JsonInclude.Include.NON_ABSENT) Optional<String> account) {}

    /** The report of a pasted list. @param edit stages the lines that fit; null where none does */
    public record PasteResult(List<PastedLine> lines, int fitting, Optional<@SchemaRef("Edit") JsonNode> edit) {}

    /** To what accounts are added, or from what they are taken: a policy, a group, or the seats of a plan. */
    private enum AimKind {
        POLICY,
        GROUP,
        PLAN
    }

    /** @param in who is in it already @param kinds for which kinds of account it is */
    private record PasteTarget(AimKind kind, String id, String name, Predicate<String> in, Set<AccountKind> kinds) {}

    @Override
    public void routes(RouteRegistry routeRegistry) {
        routeRegistry.postReadOnly("/addresses", this::addresses, PasteResult.class);
    }

    private Response addresses(RequestContext requestContext) throws IOException {
        QueryContext queryContext = queries.read(requestContext.query(Set.of("draft")));
        JsonRequestBody jsonRequestBody = requestContext.sent(Limits.BATCH);
        List<String> lines = jsonRequestBody
                .root()
                .required("text")
                .flatMap(JsonCursor::text)
                .map(t -> t.lines().toList())
                .orElse(List.of());
        if (lines.size() > MOST_LINES)
            jsonRequestBody
                    .root()
                    .member("text")
                    .orElseThrow()
                    .defect("must not have more than " + MOST_LINES + " lines; paste a part at a time");
        boolean adds = jsonRequestBody
                .root()
                .required("adds")
                .flatMap(JsonCursor::bool)
                .orElse(true);
        Optional<PasteTarget> aim = aim(jsonRequestBody.root(), queryContext);
        jsonRequestBody.refuseDefects();
        return Response.of(report(queryContext.estate(), lines, adds, aim.orElseThrow()));
    }

    private static Optional<PasteTarget> aim(JsonCursor root, QueryContext queryContext) {
        Estate estate = queryContext.estate();
        Optional<JsonCursor> policy = root.member("policy");
        Optional<JsonCursor> group = root.member("group");
        Optional<JsonCursor> plan = root.member("plan");
        if (Stream.of(policy, group, plan).filter(Optional::isPresent).count() != 1) {
            root.defect("must name a \"policy\", a \"group\" or a \"plan\", and one of them only");
            return Optional.empty();
        }
        Set<AccountKind> all = Set.of(AccountKind.values());
        if (plan.isPresent()) {
            Optional<Allocation> found = plan.get()
                    .id()
                    .flatMap(id ->
                            queryContext.instantResolution().entitlements().allocation(id));
            if (found.isEmpty()) plan.get().defect("names no plan that exists");
            return found.map(a -> new PasteTarget(
                    AimKind.PLAN,
                    a.plan().id(),
                    a.plan().name(),
                    id -> a.seated().contains(queryContext.directory().number(id)),
                    a.plan().kinds()));
        }
        if (policy.isPresent()) {
            Optional<Policy> found = policy.get().id().flatMap(estate::policy);
            if (found.isEmpty()) policy.get().defect("names no policy that exists");
            return found.map(p -> new PasteTarget(AimKind.POLICY, p.id(), p.name(), named(p)::contains, all));
        }
        Optional<Group> found = group.get().id().flatMap(estate::group);
        if (found.isEmpty()) group.get().defect("names no group that exists");
        return found.map(g -> new PasteTarget(
                AimKind.GROUP, g.id(), g.name(), new HashSet<>(g.members().accounts())::contains, all));
    }

    private static Set<String> named(Policy policy) {
        Set<String> named = new HashSet<>();
        for (Assignment a : policy.assignments())
            if (a.include() && a.target() instanceof Target.AccountTarget account) named.add(account.id());
        return named;
    }

    private static PasteResult report(Estate estate, List<String> lines, boolean adds, PasteTarget pasteTarget) {
        AddressResolver addressResolver = new AddressResolver(estate, lines);
        List<PastedLine> told = new ArrayList<>();
        Set<String> taken = new HashSet<>();
        List<String> fitting = new ArrayList<>();
        for (int i = 0; i < lines.size(); i++) {
            String line = lines.get(i).strip();
            if (line.isEmpty()) continue;
            List<Account> all = addressResolver.of(line);
            PastedVerdict verdict = verdict(all, adds, pasteTarget, taken);
            boolean fits = verdict == PastedVerdict.FITS;
            if (fits) fitting.add(all.get(0).id());
            told.add(new PastedLine(
                    i + 1,
                    line,
                    all.size() == 1 ? Optional.of(all.get(0).displayName()) : Optional.empty(),
                    verdict,
                    why(verdict, all, pasteTarget),
                    fits ? Optional.of(all.get(0).id()) : Optional.empty()));
        }
        return new PasteResult(
                told,
                fitting.size(),
                fitting.isEmpty() ? Optional.empty() : Optional.of(edit(estate, adds, pasteTarget, fitting)));
    }

    private static PastedVerdict verdict(List<Account> all, boolean adds, PasteTarget pasteTarget, Set<String> taken) {
        if (all.isEmpty()) return PastedVerdict.UNKNOWN;
        if (all.size() > 1) return PastedVerdict.AMBIGUOUS;
        Account account = all.get(0);
        boolean in = pasteTarget.in.test(account.id());
        if (adds && in) return PastedVerdict.ALREADY_IN;
        if (!adds && !in) return PastedVerdict.NOT_IN;
        if (adds && !account.active()) return PastedVerdict.INACTIVE;
        if (adds && !pasteTarget.kinds.contains(account.kind())) return PastedVerdict.WRONG_KIND;
        return taken.add(account.id()) ? PastedVerdict.FITS : PastedVerdict.REPEATED;
    }

    private static String why(PastedVerdict verdict, List<Account> all, PasteTarget pasteTarget) {
        return switch (verdict) {
            case UNKNOWN -> "Nobody has this address, id or name.";
            case AMBIGUOUS ->
                "It can mean " + all.size() + " accounts: "
                        + String.join(
                                ", ",
                                all.stream().map(Account::userName).limit(4).toList())
                        + ". Paste the address.";
            case INACTIVE ->
                pasteTarget.kind == AimKind.PLAN
                        ? "The account is deactivated and can hold no seat."
                        : "The account is deactivated; a policy does not reach it.";
            case WRONG_KIND ->
                "This is a " + all.get(0).kind().word() + ", and " + pasteTarget.name
                        + " is not for that kind of account.";
            case ALREADY_IN ->
                switch (pasteTarget.kind) {
                    case POLICY -> pasteTarget.name + " names this account already.";
                    case GROUP -> "Already a member of " + pasteTarget.name + ".";
                    case PLAN -> "Already holds a seat of " + pasteTarget.name + ".";
                };
            case NOT_IN ->
                switch (pasteTarget.kind) {
                    case POLICY -> pasteTarget.name + " does not name this account itself.";
                    case GROUP -> "No member of " + pasteTarget.name + " itself.";
                    case PLAN -> "Holds no seat of " + pasteTarget.name + ".";
                };
            case REPEATED -> "Stands in the list before.";
            case FITS -> "";
        };
    }

    private static JsonNode edit(Estate estate, boolean adds, PasteTarget pasteTarget, List<String> accounts) {
        if (pasteTarget.kind == AimKind.PLAN) {
            ObjectNode edit = Json.NODES
                    .objectNode()
                    .put("kind", (adds ? AssignSeats.KIND : RevokeSeats.KIND).name())
                    .put("plan", pasteTarget.id);
            ArrayNode list = edit.putArray("accounts");
            accounts.forEach(list::add);
            return edit;
        }
        if (pasteTarget.kind == AimKind.GROUP) {
            ObjectNode edit = Json.NODES
                    .objectNode()
                    .put("kind", (adds ? AddMembers.KIND : RemoveMembers.KIND).name())
                    .put("group", pasteTarget.id);
            ArrayNode who = edit.putArray("who");
            accounts.forEach(a -> who.add("account:" + a));
            return edit;
        }
        ObjectNode batch =
                Json.NODES.objectNode().put("kind", BatchEdit.KIND.name()).put("source", "a pasted list");
        ArrayNode edits = batch.putArray("edits");
        Map<String, JsonNode> written = new HashMap<>();
        estate.policy(pasteTarget.id)
                .orElseThrow()
                .source()
                .path("assignments")
                .forEach(a -> written.put(a.path("include").asText(), a));
        for (String account : accounts) {
            ObjectNode edit = edits.addObject()
                    .put("kind", (adds ? PutAssignment.KIND : RemoveAssignment.KIND).name())
                    .put("policy", pasteTarget.id);
            edit.set(
                    "assignment",
                    adds
                            ? Json.NODES.objectNode().put("include", "account:" + account)
                            : written.get("account:" + account));
        }
        return batch;
    }
}
