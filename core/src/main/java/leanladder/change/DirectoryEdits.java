package leanladder.change;

import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Predicate;
import java.util.stream.Collectors;
import leanladder.catalogue.Topology;
import leanladder.document.Place;
import leanladder.estate.Account;
import leanladder.estate.Members;
import leanladder.estate.Ring;
import leanladder.estate.Target;
import leanladder.estate.Unit;
import leanladder.estate.read.Parts;
import leanladder.estate.read.Section;
import leanladder.resolve.Ground;

/**
 * Edits of units, accounts and groups, read against the book as it stands: what does not fit is reported at its place, and the edit
 * is left out.
 *
 * @param base the estate before all edits
 * @param naming says which policies name a target
 */
record DirectoryEdits(DirectoryBook book, Ground base, PolicyBook naming) {
    private static final Map<Section, Set<String>> AMENDABLE = Map.of(
            Section.UNITS, Set.of("name", "parent"),
            Section.ACCOUNTS,
                    Set.of("userName", "displayName", "kind", "unit", "active", "started", "consents", "attributes"),
            Section.GROUPS, Set.of("name", "purpose", "owners"));
    private static final int NAMED = 3;

    /** Reads an edit of a kind that {@link DirectoryBook#knows} knows, without carrying it out. */
    Optional<Edit.OfDirectory> read(String kind, Place place) {
        if (kind.endsWith("-members")) return membership(kind, place);
        Section section = DirectoryBook.SECTIONS.get(kind.substring(kind.indexOf('-') + 1));
        if (kind.startsWith("add-")) return addition(section, place);
        Optional<String> id = known(section, place);
        if (id.isEmpty()) return Optional.empty();
        if (kind.startsWith("amend-")) return amendment(section, id.get(), place);
        return removal(section, id.get(), place);
    }

    private Optional<String> known(Section section, Place place) {
        return place.required(DirectoryBook.noun(section))
                .flatMap(p -> p.id().filter(id -> {
                    if (!book.has(section, id))
                        p.defect("names the " + DirectoryBook.noun(section) + " \"" + id
                                + "\", which does not exist (any more)");
                    return book.has(section, id);
                }));
    }

    private Optional<Edit.OfDirectory> addition(Section section, Place place) {
        Optional<Place> named = place.required(DirectoryBook.noun(section));
        if (named.isEmpty() || !named.get().isObject()) return Optional.empty();
        ObjectNode body = ((ObjectNode) named.get().node()).deepCopy();
        if (!body.has("id")) {
            String words =
                    body.path(section == Section.ACCOUNTS ? "userName" : "name").asText("");
            body.put("id", freeId(section, words));
        }
        String id = body.path("id").asText();
        Place whole = new Place(body, named.get().pointer(), place.defects());
        int before = place.defects().size();
        check(section, whole);
        if (place.defects().size() == before && book.has(section, id))
            named.get()
                    .defect("has the id \"" + id + "\", which another " + DirectoryBook.noun(section)
                            + " has; leave the id out to be given one");
        if (section == Section.UNITS
                && place.defects().size() == before
                && !body.path("parent").isTextual())
            named.get().defect("lacks the member \"parent\"; only the organisation stands below no other unit");
        return place.defects().size() > before ? Optional.empty() : Optional.of(new Edit.AddPart(section, id, body));
    }

    private String freeId(Section section, String words) {
        String local = words.contains("@") ? words.substring(0, words.indexOf('@')) : words;
        return FreeId.of(local, DirectoryBook.noun(section), id -> book.has(section, id));
    }

    /** Reads a part as it would be and checks what it names. */
    private void check(Section section, Place whole) {
        if (section == Section.UNITS) {
            Parts.unit(whole)
                    .ifPresent(u -> u.parent()
                            .filter(p -> !book.hasUnit(p))
                            .ifPresent(p -> whole.member("parent")
                                    .orElseThrow()
                                    .defect("names the unit \"" + p + "\", which does not exist (any more)")));
            notBlank(whole, "name");
        } else if (section == Section.ACCOUNTS) {
            Optional<Account> account = Parts.account(whole);
            account.filter(a -> !a.unit().isEmpty() && !book.hasUnit(a.unit()))
                    .ifPresent(a -> whole.member("unit")
                            .orElseThrow()
                            .defect("names the unit \"" + a.unit() + "\", which does not exist (any more)"));
            Set<String> rings = base.estate().rings().stream().map(Ring::id).collect(Collectors.toSet());
            for (Place consent : whole.items("consents"))
                consent.member("ring")
                        .filter(r ->
                                r.node().isTextual() && !rings.contains(r.node().textValue()))
                        .ifPresent(r -> r.defect("names a ring that does not exist"));
            notBlank(whole, "displayName");
        } else {
            notBlank(whole, "name");
            Parts.group(whole).ifPresent(group -> {
                for (Place owner : whole.items("owners"))
                    if (owner.node().isTextual()
                            && !book.hasAccount(owner.node().textValue()))
                        owner.defect("names the account \"" + owner.node().textValue()
                                + "\", which does not exist (any more)");
                checkMembers(group.id(), whole.items("members"));
            });
        }
    }

    private static void notBlank(Place whole, String member) {
        whole.member(member)
                .filter(p -> p.node().isTextual() && p.node().textValue().isBlank())
                .ifPresent(p -> p.defect("must not be empty"));
    }

    /** Checks that members exist and that nesting them closes no cycle. */
    private void checkMembers(String group, List<Place> items) {
        for (Place item : items) {
            Optional<Target> target =
                    item.node().isTextual() ? Target.of(item.node().textValue()) : Optional.empty();
            if (target.isPresent()
                    && target.get() instanceof Target.OfAccount account
                    && !book.hasAccount(account.id()))
                item.defect("names the account \"" + account.id() + "\", which does not exist (any more)");
            if (target.isPresent() && target.get() instanceof Target.OfGroup inner) {
                if (book.group(inner.id()).isEmpty() && !inner.id().equals(group))
                    item.defect("names the group \"" + inner.id() + "\", which does not exist (any more)");
                else {
                    List<String> cycle = cycleOfGroups(group, inner.id());
                    if (!cycle.isEmpty())
                        item.defect("would close a cycle of groups: "
                                + cycle.stream()
                                        .map(id -> book.name(Section.GROUPS, id))
                                        .collect(Collectors.joining(" → ")));
                }
            }
        }
    }

    /** The way from an inner group back to the outer one that would hold it; empty when there is none. */
    private List<String> cycleOfGroups(String outer, String inner) {
        return Topology.order(List.of(outer), id -> {
                    List<String> next = new ArrayList<>(
                            book.group(id).map(g -> g.members().groups()).orElse(List.of()));
                    if (id.equals(outer)) next = List.of(inner);
                    return next;
                })
                .cycle();
    }

    private Optional<Edit.OfDirectory> amendment(Section section, String id, Place place) {
        Optional<Place> members = place.required("members").filter(Place::isObject);
        if (members.isEmpty()) return Optional.empty();
        for (var member : members.get().members().entrySet())
            if (!AMENDABLE.get(section).contains(member.getKey())) {
                member.getValue()
                        .defect("cannot be amended so; "
                                + AMENDABLE.get(section).stream().sorted().collect(Collectors.joining(", ")) + " can");
                return Optional.empty();
            }
        ObjectNode wanted = (ObjectNode) members.get().node();
        int before = place.defects().size();
        ObjectNode amended = book.shortBody(section, id);
        PolicyBook.amend(amended, wanted);
        check(section, new Place(amended, members.get().pointer(), place.defects()));
        if (section == Section.UNITS && place.defects().size() == before) checkTree(id, amended, members.get());
        boolean turnsToMailing = section == Section.GROUPS
                && book.group(id).orElseThrow().access()
                && amended.path("purpose").asText().equals("mailing");
        if (turnsToMailing && place.defects().size() == before) {
            List<String> users = users(section, id, false);
            if (!users.isEmpty())
                members.get()
                        .member("purpose")
                        .orElseThrow()
                        .defect("cannot become mailing: the group is used by " + list(users)
                                + ". Take it out there first, or make another group for mail");
        }
        return place.defects().size() > before
                ? Optional.empty()
                : Optional.of(new Edit.AmendPart(section, id, wanted));
    }

    private void checkTree(String id, ObjectNode amended, Place members) {
        boolean root = book.isRootUnit(id);
        if (!members.node().has("parent")) return;
        Place at = members.member("parent").orElseThrow();
        if (root) {
            at.defect("cannot be given: this is the organisation, and everything stands below it");
            return;
        }
        if (!amended.path("parent").isTextual()) {
            at.defect("cannot be taken away: only the organisation stands below no other unit");
            return;
        }
        List<String> way = new ArrayList<>(List.of(id));
        for (String up = amended.get("parent").textValue();
                up != null;
                up = book.unit(up).flatMap(Unit::parent).orElse(null)) {
            way.add(up);
            if (up.equals(id)) {
                at.defect("would close a cycle of units: "
                        + way.stream().map(u -> book.name(Section.UNITS, u)).collect(Collectors.joining(" → ")));
                return;
            }
        }
    }

    private Optional<Edit.OfDirectory> removal(Section section, String id, Place place) {
        Place at = place.member(DirectoryBook.noun(section)).orElseThrow();
        if (section == Section.UNITS && book.isRootUnit(id)) {
            at.defect("is the organisation itself and cannot be taken away");
            return Optional.empty();
        }
        List<String> users = users(section, id, true);
        if (!users.isEmpty()) {
            at.defect("cannot be taken away: " + book.name(section, id) + " is used by " + list(users)
                    + (section == Section.ACCOUNTS
                            ? ". Deactivate the account, or take it out there first"
                            : ". Take it out there first"));
            return Optional.empty();
        }
        return Optional.of(new Edit.RemovePart(section, id));
    }

    private static String list(List<String> names) {
        return names.size() <= NAMED
                ? String.join(", ", names)
                : String.join(", ", names.subList(0, NAMED)) + " and " + (names.size() - NAMED) + " more";
    }

    /**
     * What names a part, in words.
     *
     * @param all also what may name it whatever its purpose: groups that hold it, what stands in it
     */
    List<String> users(Section section, String id, boolean all) {
        String target = DirectoryBook.noun(section) + ":" + id;
        List<String> users = new ArrayList<>();
        naming.naming(target).forEach(p -> users.add("the policy " + p));
        base.estate().plans().forEach(plan -> {
            boolean ruled =
                    plan.assignments().stream().anyMatch(a -> a.target().text().equals(target));
            boolean held = section == Section.ACCOUNTS
                    && plan.holders().stream().anyMatch(h -> h.account().equals(id));
            if (ruled || held) users.add("the plan " + plan.name());
        });
        base.estate().releases().stream()
                .filter(r -> r.early().stream().anyMatch(e -> e.to().text().equals(target)))
                .forEach(r -> users.add("the release of "
                        + base.estate()
                                .catalogue()
                                .setting(r.setting())
                                .orElseThrow()
                                .title()));
        if (!all) return users;
        if (section == Section.UNITS) {
            book.allUnits()
                    .filter(u -> u.parent().filter(id::equals).isPresent())
                    .forEach(u -> users.add("the unit " + u.name()));
            book.accountsIn(id).forEach(a -> users.add(a.displayName()));
            return users;
        }
        Predicate<Members> holds = section == Section.GROUPS
                ? m -> m.groups().contains(id)
                : m -> m.accounts().contains(id);
        book.allGroups().forEach(g -> {
            boolean mayHold = section == Section.GROUPS
                    || book.groups().containsKey(g.id())
                    || base.directory().groupsOf(id).contains(g.id());
            if (mayHold && holds.test(g.members())
                    || section == Section.ACCOUNTS && g.owners().contains(id)) users.add("the group " + g.name());
        });
        base.estate().workspaces().forEach(w -> {
            if (holds.test(w.members())
                    || section == Section.ACCOUNTS && w.stewards().contains(id)) users.add("the workspace " + w.name());
        });
        return users;
    }

    private Optional<Edit.OfDirectory> membership(String kind, Place place) {
        Optional<String> id = known(Section.GROUPS, place);
        Optional<Place> list = place.required("who");
        if (id.isEmpty() || list.isEmpty()) return Optional.empty();
        int before = place.defects().size();
        List<Place> items = list.get().items();
        if (list.get().node().isArray() && items.isEmpty()) list.get().defect("must name at least one member");
        Members who = Parts.members(items);
        Members present = book.group(id.get()).orElseThrow().members();
        boolean puts = kind.equals("put-members");
        if (puts) checkMembers(id.get(), items);
        Set<String> in = new HashSet<>(present.groups());
        Set<String> wanted = new HashSet<>(who.accounts());
        present.accounts().stream().filter(wanted::contains).forEach(in::add);
        if (!puts)
            for (Place item : items)
                if (item.node().isTextual()
                        && !in.contains(item.node()
                                .textValue()
                                .substring(item.node().textValue().indexOf(':') + 1)))
                    item.defect("is no member of " + book.name(Section.GROUPS, id.get()) + " (any more)");
        if (place.defects().size() > before) return Optional.empty();
        if (!puts) return Optional.of(new Edit.RemoveMembers(id.get(), who));
        return Optional.of(new Edit.PutMembers(id.get(), who.without(present)));
    }
}
