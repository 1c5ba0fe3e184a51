package leanladder.change;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Predicate;
import leanladder.document.Defects;
import leanladder.document.Json;
import leanladder.document.Place;
import leanladder.estate.Assignment;
import leanladder.estate.Estate;
import leanladder.estate.Policy;
import leanladder.estate.Statement;
import leanladder.estate.read.PolicyReader;
import leanladder.estate.read.References;

/**
 * The policies and their ranking while edits are read and carried out, one after the other. Each edit is checked against what
 * the ones before it left; whatever does not fit is reported at its place and the edit is left out.
 *
 * <p>The forms of edits, by their member {@code kind}: {@code add-policy} (policy, below or above), {@code remove-policy} (policy), {@code
 * amend-policy} (policy, members), {@code put-statement} (policy, statement), {@code remove-statement} (policy, setting, says),
 * {@code put-assignment} and {@code remove-assignment} (policy, assignment), {@code rank-policy} (policy, above).
 */
final class PolicyBook {
    private static final Set<String> AMENDABLE = Set.of("name", "description", "state", "owner", "review");
    static final List<String> KINDS = List.of(
            "add-policy",
            "remove-policy",
            "amend-policy",
            "put-statement",
            "remove-statement",
            "put-assignment",
            "remove-assignment",
            "rank-policy");
    private static final Map<String, Boolean> SAYS_CAP = Map.of("set", false, "cap", true);

    private final Estate estate;
    private final PolicyReader reader;
    private final Map<String, ObjectNode> bodies = new LinkedHashMap<>();
    private final List<String> ranking = new ArrayList<>();
    private final Set<String> changed = new LinkedHashSet<>();
    private final Set<String> touchedSettings = new LinkedHashSet<>();
    private boolean rankingChanged;

    /** Opens the policies of an estate; the estate stays as it is. */
    PolicyBook(Estate estate, References known) {
        this.estate = estate;
        this.reader = new PolicyReader(estate.catalogue()::setting, known);
        for (Policy policy : estate.policies()) {
            bodies.put(policy.id(), policy.source());
            ranking.add(policy.id());
        }
    }

    /** The same book, to go back to, reading with other references. */
    PolicyBook copy(References known) {
        PolicyBook copy = new PolicyBook(estate, known);
        copy.bodies.clear();
        copy.bodies.putAll(bodies);
        copy.ranking.clear();
        copy.ranking.addAll(ranking);
        copy.changed.addAll(changed);
        copy.touchedSettings.addAll(touchedSettings);
        copy.rankingChanged = rankingChanged;
        return copy;
    }

    /** Reads an edit without carrying it out; empty when its kind is none of a policy. */
    Optional<Edit.OfPolicy> read(String kind, Place place) {
        return switch (kind) {
            case "add-policy" -> addition(place);
            case "remove-policy" -> known(place).map(Edit.RemovePolicy::new);
            case "amend-policy" -> amendment(place);
            case "put-statement" ->
                known(place)
                        .flatMap(id -> place.required("statement")
                                .flatMap(p -> reader.statement(p)
                                        .filter(s -> fits(p))
                                        .map(s -> new Edit.PutStatement(id, s, (ObjectNode) p.node()))));
            case "remove-statement" -> silence(place);
            case "put-assignment" ->
                known(place)
                        .flatMap(id -> place.required("assignment")
                                .flatMap(p -> reader.assignment(p, true)
                                        .map(a -> new Edit.PutAssignment(id, a, (ObjectNode) p.node()))));
            case "remove-assignment" -> withdrawal(place);
            case "rank-policy" -> move(place);
            default -> Optional.empty();
        };
    }

    /** Whether an edit of this kind is one of a policy. */
    static boolean knows(String kind) {
        return KINDS.contains(kind);
    }

    /** Names of the policies that have an assignment with this target. */
    List<String> naming(String target) {
        return bodies.values().stream()
                .filter(body -> assignments(body).stream()
                        .anyMatch(a -> a.path("include")
                                .asText(a.path("except").asText())
                                .equals(target)))
                .map(body -> body.path("name").asText())
                .toList();
    }

    private static boolean fits(Place statement) {
        return !(statement.node().has("set") && statement.node().has("cap"));
    }

    private Optional<String> known(Place place) {
        return place.required("policy")
                .flatMap(p -> p.id().filter(id -> {
                    if (!bodies.containsKey(id))
                        p.defect("names the policy \"" + id + "\", which does not exist (any more)");
                    return bodies.containsKey(id);
                }));
    }

    private Optional<Edit.OfPolicy> addition(Place place) {
        Optional<Place> body = place.required("policy");
        if (body.isEmpty() || !body.get().isObject()) return Optional.empty();
        ObjectNode policy = ((ObjectNode) body.get().node()).deepCopy();
        if (!policy.has("id"))
            policy.put("id", FreeId.of(policy.path("name").asText(""), "policy", bodies::containsKey));
        Defects found = new Defects();
        Optional<Policy> read = reader.policy(new Place(policy, body.get().pointer(), found));
        checkName(policy, body.get().pointer(), found);
        found.all().forEach(d -> new Place(policy, d.pointer(), place.defects()).defect(d.message()));
        if (read.isEmpty() || !found.isEmpty()) return Optional.empty();
        String id = read.get().id();
        if (bodies.containsKey(id)) {
            body.get().defect("has the id \"" + id + "\", which another policy has; leave the id out to be given one");
            return Optional.empty();
        }
        Optional<String> below = neighbour(place, "below");
        Optional<String> above = neighbour(place, "above");
        return Optional.of(new Edit.AddPolicy(id, policy, below, above));
    }

    /** The policy beside which another shall stand, where one is named; a defect when there is none of this id. */
    private Optional<String> neighbour(Place place, String side) {
        Optional<Place> named = place.member(side).filter(p -> !p.node().isNull());
        Optional<String> id = named.flatMap(Place::id);
        id.filter(o -> !bodies.containsKey(o))
                .ifPresent(o -> named.get().defect("names the policy \"" + o + "\", which does not exist (any more)"));
        return id;
    }

    private Optional<Edit.OfPolicy> amendment(Place place) {
        Optional<String> id = known(place);
        Optional<Place> members = place.required("members").filter(Place::isObject);
        if (id.isEmpty() || members.isEmpty()) return Optional.empty();
        for (var member : members.get().members().entrySet())
            if (!AMENDABLE.contains(member.getKey())) {
                member.getValue().defect("cannot be amended so; name, description, state, owner and review can");
                return Optional.empty();
            }
        ObjectNode amended = bodies.get(id.get()).deepCopy();
        amend(amended, (ObjectNode) members.get().node());
        Defects found = new Defects();
        reader.policy(new Place(amended, members.get().pointer(), found));
        checkName(amended, members.get().pointer(), found);
        found.all().forEach(d -> new Place(amended, d.pointer(), place.defects()).defect(d.message()));
        return found.isEmpty()
                ? Optional.of(new Edit.AmendPolicy(
                        id.get(), (ObjectNode) members.get().node()))
                : Optional.empty();
    }

    private static void checkName(ObjectNode policy, String pointer, Defects found) {
        if (policy.path("name").isTextual() && policy.get("name").textValue().isBlank() || !policy.has("name"))
            found.add(pointer + "/name", "must not be empty; name the policy for what it does");
    }

    static void amend(ObjectNode policy, ObjectNode members) {
        members.properties().forEach(m -> {
            if (m.getValue().isNull()) policy.remove(m.getKey());
            else policy.set(m.getKey(), m.getValue());
        });
    }

    private Optional<Edit.OfPolicy> silence(Place place) {
        Optional<String> id = known(place);
        Optional<String> key = place.required("setting").flatMap(Place::key);
        Optional<Boolean> cap = place.required("says").flatMap(p -> p.word(SAYS_CAP));
        if (id.isEmpty() || key.isEmpty() || cap.isEmpty()) return Optional.empty();
        Edit.RemoveStatement edit = new Edit.RemoveStatement(id.get(), key.get(), cap.get());
        if (statements(bodies.get(id.get())).stream().noneMatch(is(key.get(), cap.get()))) {
            place.member("setting")
                    .orElseThrow()
                    .defect("names \"" + key.get() + "\", on which the policy does not speak so (any more)");
            return Optional.empty();
        }
        return Optional.of(edit);
    }

    private Optional<Edit.OfPolicy> withdrawal(Place place) {
        Optional<String> id = known(place);
        Optional<Place> body = place.required("assignment");
        if (id.isEmpty() || body.isEmpty()) return Optional.empty();
        Optional<Assignment> assignment = reader.assignment(body.get(), true);
        if (assignment.isEmpty()) return Optional.empty();
        if (assignments(bodies.get(id.get())).stream().noneMatch(a -> read(a).equals(assignment))) {
            body.get().defect("is no assignment of this policy (any more)");
            return Optional.empty();
        }
        return Optional.of(new Edit.RemoveAssignment(id.get(), assignment.get()));
    }

    private Optional<Edit.OfPolicy> move(Place place) {
        Optional<String> id = known(place);
        Optional<Place> above = place.required("above");
        if (id.isEmpty() || above.isEmpty()) return Optional.empty();
        if (above.get().node().isNull()) return Optional.of(new Edit.RankPolicy(id.get(), Optional.empty()));
        Optional<String> other = above.get().id();
        if (other.isEmpty()) return Optional.empty();
        if (!bodies.containsKey(other.get()) || other.equals(id)) {
            above.get()
                    .defect(
                            other.equals(id)
                                    ? "must be another policy"
                                    : "names the policy \"" + other.get() + "\", which does not exist (any more)");
            return Optional.empty();
        }
        return Optional.of(new Edit.RankPolicy(id.get(), other));
    }

    void carryOut(Edit.OfPolicy edit) {
        String id = edit.policy();
        touchSettings(id, edit);
        changed.add(id);
        if (edit instanceof Edit.AddPolicy add) {
            bodies.put(id, add.body());
            int last = add.above().map(ranking::indexOf).orElse(ranking.size());
            int at = add.below().map(o -> ranking.indexOf(o) + 1).orElse(last);
            ranking.add(at, id);
            rankingChanged = true;
            touchSettings(id, edit);
        } else if (edit instanceof Edit.RemovePolicy) {
            bodies.remove(id);
            ranking.remove(id);
            rankingChanged = true;
        } else if (edit instanceof Edit.RankPolicy rank) {
            ranking.remove(id);
            ranking.add(rank.above().map(ranking::indexOf).orElse(ranking.size()), id);
            rankingChanged = true;
        } else {
            ObjectNode body = bodies.get(id).deepCopy();
            rewrite(body, edit);
            bodies.put(id, body);
        }
    }

    private void rewrite(ObjectNode body, Edit.OfPolicy edit) {
        if (edit instanceof Edit.AmendPolicy amend) {
            amend(body, amend.members());
        } else if (edit instanceof Edit.PutStatement put) {
            replace(
                    body,
                    "statements",
                    is(put.statement().setting(), put.statement() instanceof Statement.Cap),
                    Optional.of(put.body()));
        } else if (edit instanceof Edit.RemoveStatement remove) {
            replace(body, "statements", is(remove.setting(), remove.cap()), Optional.empty());
        } else if (edit instanceof Edit.PutAssignment put) {
            replace(
                    body,
                    "assignments",
                    a -> read(a).filter(put.assignment()::equals).isPresent(),
                    Optional.of(put.body()));
        } else if (edit instanceof Edit.RemoveAssignment remove) {
            replace(
                    body,
                    "assignments",
                    a -> read(a).filter(remove.assignment()::equals).isPresent(),
                    Optional.empty());
        }
    }

    /** Puts a new item in the place of the first that matches, or at the end; without a new item the matching ones go. */
    private static void replace(ObjectNode body, String member, Predicate<JsonNode> matches, Optional<ObjectNode> by) {
        ArrayNode items = Json.NODES.arrayNode();
        boolean placed = by.isEmpty();
        for (JsonNode item : body.path(member)) {
            if (!matches.test(item)) items.add(item);
            else if (!placed) {
                items.add(by.get());
                placed = true;
            }
        }
        if (!placed) items.add(by.get());
        body.set(member, items);
    }

    private static Predicate<JsonNode> is(String setting, boolean cap) {
        return s -> s.path("setting").asText().equals(setting) && s.has(cap ? "cap" : "set");
    }

    private static List<JsonNode> statements(ObjectNode policy) {
        List<JsonNode> all = new ArrayList<>();
        policy.path("statements").forEach(all::add);
        return all;
    }

    private static List<JsonNode> assignments(ObjectNode policy) {
        List<JsonNode> all = new ArrayList<>();
        policy.path("assignments").forEach(all::add);
        return all;
    }

    private Optional<Assignment> read(JsonNode assignment) {
        return reader.assignment(new Place(assignment, "", new Defects()), true);
    }

    private void touchSettings(String id, Edit.OfPolicy edit) {
        if (edit instanceof Edit.PutStatement put)
            touchedSettings.add(put.statement().setting());
        else if (edit instanceof Edit.RemoveStatement remove) touchedSettings.add(remove.setting());
        else if (bodies.containsKey(id))
            statements(bodies.get(id))
                    .forEach(s -> touchedSettings.add(s.path("setting").asText()));
    }

    /** The settings on which something the edits touch has a word, before or after. */
    Set<String> touchedSettings() {
        return touchedSettings;
    }

    /** The ids of policies that were added or changed and are still there. */
    List<String> written() {
        return changed.stream().filter(bodies::containsKey).toList();
    }

    /** The ids of policies that were there before and are no more. */
    List<String> removed() {
        return changed.stream()
                .filter(id -> !bodies.containsKey(id) && estate.policy(id).isPresent())
                .toList();
    }

    /** What a policy says on a setting in one way, as the estate file writes it. */
    Optional<ObjectNode> statement(String id, String setting, boolean cap) {
        return statements(bodies.get(id)).stream()
                .filter(is(setting, cap))
                .map(ObjectNode.class::cast)
                .findFirst();
    }

    /** An assignment of a policy, as the estate file writes it. */
    Optional<ObjectNode> assignment(String id, Assignment assignment) {
        return assignments(bodies.get(id)).stream()
                .filter(a -> read(a).filter(assignment::equals).isPresent())
                .map(ObjectNode.class::cast)
                .findFirst();
    }

    /** The name of a policy as it stands now; empty when there is none of this id. */
    String name(String id) {
        return bodies.containsKey(id) ? bodies.get(id).path("name").asText() : "";
    }

    /** The policy as the estate file writes it. */
    ObjectNode body(String id) {
        return bodies.get(id);
    }

    boolean isRankingChanged() {
        return rankingChanged;
    }

    boolean isTouched() {
        return rankingChanged || !changed.isEmpty();
    }

    /** Ids of policies that were added, changed, moved or removed. */
    Set<String> changed() {
        return changed;
    }

    boolean has(String id) {
        return bodies.containsKey(id);
    }

    /** All policies in their order, the strongest first. */
    List<String> ranking() {
        return List.copyOf(ranking);
    }

    /** The policies as they are now, read again where they were changed. */
    List<Policy> policies() {
        Map<String, Policy> same = new HashMap<>();
        estate.policies().forEach(p -> same.put(p.id(), p));
        List<Policy> policies = new ArrayList<>();
        for (String id : ranking) {
            if (!changed.contains(id)) {
                policies.add(same.get(id));
                continue;
            }
            Defects defects = new Defects();
            Policy policy =
                    reader.policy(new Place(bodies.get(id), "", defects)).orElseThrow();
            if (!defects.isEmpty())
                throw new IllegalStateException("Edits that fit left a policy that does not: " + defects.all());
            policies.add(policy);
        }
        return policies;
    }
}
