package leanladder.workingcopy;

import com.fasterxml.jackson.databind.node.ArrayNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.List;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import leanladder.catalogue.Topology;
import leanladder.estate.Estate;
import leanladder.estate.Group;
import leanladder.estate.Nesting;
import leanladder.estate.Target;
import leanladder.estate.read.EntityParsers;
import leanladder.estate.read.Section;
import leanladder.json.Json;
import leanladder.json.JsonCursor;
import leanladder.rule.GroupRule;

/** Access groups and mailing groups. */
final class GroupEntityType extends EntityType<Group> {
    private static final String PURPOSE = "purpose";
    private static final String OWNERS = "owners";
    private static final String RULE = "rule";

    GroupEntityType() {
        super("group", Section.GROUPS, Set.of("name", PURPOSE, OWNERS, RULE, "description"));
    }

    @Override
    public Optional<Group> find(Estate estate, String id) {
        return estate.group(id);
    }

    @Override
    public Optional<Group> read(JsonCursor jsonCursor, Overlay on) {
        return EntityParsers.group(jsonCursor);
    }

    @Override
    public String name(Group group) {
        return group.name();
    }

    @Override
    public ObjectNode shortBody(Group group) {
        ObjectNode body = Json.NODES
                .objectNode()
                .put("id", group.id())
                .put("name", group.name())
                .put(PURPOSE, group.access() ? "access" : "mailing");
        ArrayNode owners = body.putArray(OWNERS);
        group.owners().forEach(owners::add);
        group.rule().ifPresent(rule -> body.put(RULE, rule.text()));
        return body;
    }

    @Override
    public void check(JsonCursor whole, Overlay on) {
        notBlank(whole, "name");
        read(whole, on).ifPresent(group -> {
            for (JsonCursor owner : whole.items(OWNERS))
                if (owner.node().isTextual() && !on.hasAccount(owner.node().textValue()))
                    unknown(owner, "account", owner.node().textValue());
            checkMembers(group.id(), whole.items("members"), on);
            group.rule()
                    .ifPresent(rule -> checkRule(group, rule, whole.member(RULE).orElseThrow(), on));
        });
    }

    private static void checkRule(Group group, GroupRule rule, JsonCursor place, Overlay on) {
        EntityParsers.checkRule(rule, place, on);
        List<String> cycle = Topology.order(
                        List.of(group.id()),
                        id -> id.equals(group.id())
                                ? Stream.concat(
                                                rule.groupIds().stream(),
                                                on.members(id).map(MembershipDelta::groups).orElse(List.of()).stream())
                                        .toList()
                                : dependencies(id, on))
                .cycle();
        if (!cycle.isEmpty())
            place.defect("would close a cycle of groups through members and rules: "
                    + cycle.stream().map(id -> on.name(GROUP, id)).collect(Collectors.joining(" → ")));
    }

    /** The groups from whose members those of a group are worked out: by nesting, and by what its rule asks. */
    private static List<String> dependencies(String group, Overlay on) {
        return Stream.concat(
                        on.members(group).map(MembershipDelta::groups).orElse(List.of()).stream(),
                        on.part(GROUP, group).flatMap(Group::rule).stream().flatMap(rule -> rule.groupIds().stream()))
                .toList();
    }

    /** Checks that members exist and that nesting them closes no cycle. */
    static void checkMembers(String group, List<JsonCursor> items, Overlay on) {
        for (JsonCursor item : items) {
            Optional<Target> target =
                    item.node().isTextual() ? Target.parse(item.node().textValue()) : Optional.empty();
            if (target.isEmpty()) continue;
            if (target.get() instanceof Target.AccountTarget account && !on.hasAccount(account.id()))
                unknown(item, "account", account.id());
            if (target.get() instanceof Target.GroupTarget inner) {
                if (on.isAccessGroup(inner.id()).isEmpty() && !inner.id().equals(group))
                    unknown(item, "group", inner.id());
                else {
                    List<String> cycle = cycle(group, inner.id(), on);
                    if (!cycle.isEmpty())
                        item.defect("would close a cycle of groups: "
                                + cycle.stream().map(id -> on.name(GROUP, id)).collect(Collectors.joining(" → ")));
                    else checkDepth(group, inner.id(), item, on);
                }
            }
        }
    }

    private static void checkDepth(String outer, String inner, JsonCursor item, Overlay on) {
        int below = Objects.requireNonNull(Nesting.levels(
                        List.of(inner),
                        id -> on.members(id).map(MembershipDelta::groups).orElse(List.of()))
                .get(inner));
        int above = Objects.requireNonNull(
                Nesting.levels(List.of(outer), on::groupsAround).get(outer));
        if (below + above > Nesting.MOST)
            item.defect(
                    "would nest groups " + (below + above) + " levels deep; at most " + Nesting.MOST + " are possible");
    }

    /** The way from an inner group back to the outer one that would hold it; empty when there is none. */
    private static List<String> cycle(String outer, String inner, Overlay on) {
        return Topology.order(
                        List.of(outer),
                        id -> id.equals(outer)
                                ? Stream.concat(
                                                Stream.of(inner),
                                                on.part(GROUP, id).flatMap(Group::rule).stream()
                                                        .flatMap(rule -> rule.groupIds().stream()))
                                        .toList()
                                : dependencies(id, on))
                .cycle();
    }

    @Override
    public void checkAmended(String id, ObjectNode amended, JsonCursor members, Overlay on) {
        boolean turnsToMailing = on.isAccessGroup(id).orElseThrow()
                && amended.path(PURPOSE).asText().equals("mailing");
        if (!turnsToMailing) return;
        List<Reference> uses =
                on.uses(this, id).stream().filter(u -> u.by().aims()).toList();
        if (!uses.isEmpty())
            members.member(PURPOSE)
                    .orElseThrow()
                    .defect("cannot become mailing: the group is used by " + Reference.list(uses)
                            + ". Take it out there first, or make another group for mail");
    }

    @Override
    public WriteSet footprint(String id, Optional<ObjectNode> members, Overlay before) {
        return WriteSet.ofGroup(id);
    }
}
