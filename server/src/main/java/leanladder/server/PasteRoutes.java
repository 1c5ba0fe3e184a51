package leanladder.server;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import io.javalin.http.Context;
import java.io.IOException;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import leanladder.document.Defects;
import leanladder.document.Json;
import leanladder.document.Place;
import leanladder.estate.Account;
import leanladder.estate.Assignment;
import leanladder.estate.Estate;
import leanladder.estate.Group;
import leanladder.estate.Policy;
import leanladder.estate.Target;

/**
 * Many accounts at once: a pasted list is looked through line by line, and every line is reported, before anything is staged.
 * The answer holds the edit that stages those lines that can be.
 */
record PasteRoutes(Estates estates) {
    private static final int LONGEST = 100_000;

    /** To what accounts are added, or from what they are taken. */
    private record Aim(String noun, String id, String name, Set<String> in) {}

    void addresses(Context ctx) throws IOException {
        Query query = new Query(ctx, estates.now(), Set.of("draft"), Set.of());
        Present present = query.one("draft").map(estates::after).orElseGet(estates::present);
        Estate estate = present.ground().estate();
        Defects defects = new Defects();
        Place root = new Place(Bodies.read(ctx), "", defects);
        if (!root.isObject()) throw Problem.defects(422, "Refused", defects.all());
        Bodies.wellFormed(root);
        List<String> lines = root.required("text")
                .flatMap(Place::text)
                .map(t -> t.lines().toList())
                .orElse(List.of());
        if (lines.size() > LONGEST)
            root.member("text")
                    .orElseThrow()
                    .defect("must not have more than " + LONGEST + " lines; paste a part at a time");
        boolean adds = root.required("adds").flatMap(Place::bool).orElse(true);
        Optional<Aim> aim = aim(root, estate);
        if (!defects.isEmpty()) throw Problem.defects(422, "Refused", defects.all());
        Answers.json(ctx, report(estate, lines, adds, aim.orElseThrow()));
    }

    private static Optional<Aim> aim(Place root, Estate estate) {
        Optional<Place> policy = root.member("policy");
        Optional<Place> group = root.member("group");
        if (policy.isPresent() == group.isPresent()) {
            root.defect("must name a \"policy\" or a \"group\", and not both");
            return Optional.empty();
        }
        if (policy.isPresent()) {
            Optional<Policy> found = policy.get().id().flatMap(estate::policy);
            if (found.isEmpty()) policy.get().defect("names no policy that exists");
            return found.map(p -> new Aim("policy", p.id(), p.name(), named(p)));
        }
        Optional<Group> found = group.get().id().flatMap(estate::group);
        if (found.isEmpty()) group.get().defect("names no group that exists");
        return found.map(g ->
                new Aim("group", g.id(), g.name(), new HashSet<>(g.members().accounts())));
    }

    private static Set<String> named(Policy policy) {
        Set<String> named = new HashSet<>();
        for (Assignment a : policy.assignments())
            if (a.include() && a.target() instanceof Target.OfAccount account) named.add(account.id());
        return named;
    }

    private static ObjectNode report(Estate estate, List<String> lines, boolean adds, Aim aim) {
        Addresses addresses = new Addresses(estate, lines);
        ObjectNode told = Answers.object();
        ArrayNode list = told.putArray("lines");
        Set<String> taken = new HashSet<>();
        List<String> fitting = new ArrayList<>();
        for (int i = 0; i < lines.size(); i++) {
            String line = lines.get(i).strip();
            if (line.isEmpty()) continue;
            List<Account> all = addresses.of(line);
            ObjectNode one = list.addObject().put("line", i + 1).put("text", line);
            one.put("name", all.size() == 1 ? all.get(0).displayName() : null);
            String verdict = verdict(all, adds, aim, taken);
            one.put("verdict", verdict);
            one.put("why", why(verdict, all, aim));
            if (verdict.equals("fits")) {
                fitting.add(all.get(0).id());
                one.put("account", all.get(0).id());
            }
        }
        told.put("fitting", fitting.size());
        told.set("edit", fitting.isEmpty() ? Json.NODES.nullNode() : edit(estate, adds, aim, fitting));
        return told;
    }

    private static String verdict(List<Account> all, boolean adds, Aim aim, Set<String> taken) {
        if (all.isEmpty()) return "unknown";
        if (all.size() > 1) return "ambiguous";
        Account account = all.get(0);
        boolean in = aim.in.contains(account.id());
        if (adds && in) return "already-in";
        if (!adds && !in) return "not-in";
        if (adds && !account.active()) return "inactive";
        return taken.add(account.id()) ? "fits" : "repeated";
    }

    private static String why(String verdict, List<Account> all, Aim aim) {
        return switch (verdict) {
            case "unknown" -> "Nobody has this address, id or name.";
            case "ambiguous" ->
                "It can mean " + all.size() + " accounts: "
                        + String.join(
                                ", ",
                                all.stream().map(Account::userName).limit(4).toList()) + ". Paste the address.";
            case "inactive" -> "The account is deactivated; a policy does not reach it.";
            case "already-in" ->
                aim.noun.equals("policy")
                        ? aim.name + " names this account already."
                        : "Already a member of " + aim.name + ".";
            case "not-in" ->
                aim.noun.equals("policy")
                        ? aim.name + " does not name this account itself."
                        : "No member of " + aim.name + " itself.";
            case "repeated" -> "Stands in the list before.";
            default -> "";
        };
    }

    private static JsonNode edit(Estate estate, boolean adds, Aim aim, List<String> accounts) {
        if (aim.noun.equals("group")) {
            ObjectNode edit = Answers.object()
                    .put("kind", adds ? "put-members" : "remove-members")
                    .put("group", aim.id);
            ArrayNode who = edit.putArray("who");
            accounts.forEach(a -> who.add("account:" + a));
            return edit;
        }
        ObjectNode batch = Answers.object().put("kind", "batch").put("source", "a pasted list");
        ArrayNode edits = batch.putArray("edits");
        Map<String, JsonNode> written = new java.util.HashMap<>();
        estate.policy(aim.id)
                .orElseThrow()
                .source()
                .path("assignments")
                .forEach(a -> written.put(a.path("include").asText(), a));
        for (String account : accounts) {
            ObjectNode edit = edits.addObject()
                    .put("kind", adds ? "put-assignment" : "remove-assignment")
                    .put("policy", aim.id);
            JsonNode assignment =
                    adds ? Answers.object().put("include", "account:" + account) : written.get("account:" + account);
            edit.set("assignment", assignment);
        }
        return batch;
    }
}
