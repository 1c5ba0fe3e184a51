package leanladder.server.directory;

import com.fasterxml.jackson.annotation.JsonInclude;
import com.fasterxml.jackson.databind.JsonNode;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Predicate;
import leanladder.catalogue.Kind;
import leanladder.change.overlay.Use;
import leanladder.estate.Account;
import leanladder.estate.Estate;
import leanladder.estate.Group;
import leanladder.estate.Policy;
import leanladder.estate.Unit;
import leanladder.estate.Workspace;
import leanladder.estate.read.Section;
import leanladder.reach.Directory;
import leanladder.server.directory.DirectoryLists.Listing;
import leanladder.server.draft.Inquiry;
import leanladder.server.http.Answer;
import leanladder.server.http.Api;
import leanladder.server.http.Call;
import leanladder.server.http.Csv;
import leanladder.server.http.Problem;
import leanladder.server.http.Query;
import leanladder.server.http.Room;
import leanladder.server.http.Shape;
import leanladder.server.list.AccountPage;
import leanladder.server.list.Named;
import leanladder.server.live.Snapshot;
import leanladder.server.live.Timeline;
import org.roaringbitmap.RoaringBitmap;

/** Who and what there is: people, rooms, guests, services, groups, units and workspaces, as lists and one by one. */
public record DirectoryRoutes(Timeline timeline, Inquiry.Reader inquiries) implements Room {
    private static final int SHOWN = 200;
    private static final int MOST = 1000;
    private static final int MEMBERS_SHOWN = 5000;
    private static final Map<String, Kind> KINDS =
            Map.of("people", Kind.PERSON, "rooms", Kind.ROOM, "guests", Kind.GUEST, "services", Kind.SERVICE);

    /** A page of a list. */
    public record DirectoryList(int total, List<DirectoryLists.Row> rows) {}

    /** Something that names a part: what it is, and how it reads. */
    public record UsedBy(UserKind kind, String id, String name, String words) {
        static UsedBy of(Use use) {
            return new UsedBy(UserKind.valueOf(use.by().name()), use.id(), use.name(), use.words());
        }
    }

    /** What names a part. */
    public enum UserKind {
        POLICY,
        PLAN,
        RELEASE,
        UNIT,
        ACCOUNT,
        GROUP,
        WORKSPACE
    }

    /** A policy that names a part itself. */
    public record NamedBy(
            String id,
            String name,
            boolean include,
            @Shape("Assignment") JsonNode assignment) {}

    /** A group in another one, or around it. */
    public record GroupOf(
            String id,
            String name,
            boolean access,

            @JsonInclude(JsonInclude.Include.NON_ABSENT) Optional<Integer> accounts) {}

    /** A unit below another. */
    public record UnitBelow(String id, String name, int accounts) {}

    /** A member of a group. @param listed whether the group lists it itself @param way by what it is one, in words */
    public record MemberOf(
            String id, String name, String address, String unit, boolean active, boolean listed, String way) {}

    /** One account, group, unit or workspace: what it is, what stands in it, what holds it and what uses it. */
    public sealed interface DirectoryEntry permits AccountEntry, GroupEntry, UnitEntry, WorkspaceEntry {}

    /** One account. @param groups that list it */
    public record AccountEntry(
            String id,
            String name,
            String address,
            Kind kind,
            Optional<String> title,
            Optional<LocalDate> started,
            boolean active,
            List<Named> path,
            List<GroupOf> groups,
            List<UsedBy> usedBy,
            List<NamedBy> policies)
            implements DirectoryEntry {}

    /** One group. @param accounts those that are active @param around the groups that list it */
    public record GroupEntry(
            String id,
            String name,
            boolean access,
            int accounts,
            int inactive,
            List<Named> owners,
            List<GroupOf> groups,
            List<GroupOf> around,
            List<MemberOf> members,
            List<UsedBy> usedBy,
            List<NamedBy> policies)
            implements DirectoryEntry {}

    /** One unit. @param accounts those that are active, in it and below it @param direct in the unit itself */
    public record UnitEntry(
            String id,
            String name,
            List<Named> path,
            int accounts,
            int inactive,
            int direct,
            List<UnitBelow> children,
            List<UsedBy> usedBy,
            List<NamedBy> policies)
            implements DirectoryEntry {}

    /**
     * One workspace.
     *
     * @param sizes of hosting that there are, the smallest first
     * @param accounts members that are active
     * @param workers members, by name or through groups
     */
    public record WorkspaceEntry(
            String id,
            String name,
            String size,
            List<String> sizes,
            boolean trial,
            int accounts,
            int inactive,
            List<Named> stewards,
            List<GroupOf> groups,
            List<MemberOf> workers,
            List<UsedBy> usedBy,
            List<NamedBy> policies)
            implements DirectoryEntry {}

    @Override
    public void routes(Api api) {
        api.get("/directory/{list}", this::list, DirectoryList.class);
        api.get("/directory/{list}/{id}", this::one, DirectoryEntry.class);
    }

    private Answer list(Call call) {
        Query query =
                call.query(Query.about("q", "unit", "group", "active", "purpose", "sort", "from", "count", "format"));
        Snapshot snapshot = inquiries.of(query).snapshot();
        String list = call.path("list");
        String q = query.one("q").orElse("");
        if (KINDS.containsKey(list))
            return page(query, list, snapshot.get(accounts(KINDS.get(list), q, query, snapshot)));
        return switch (list) {
            case "groups" -> page(query, list, DirectoryLists.groups(snapshot, query.one("purpose"), q));
            case "units" -> page(query, list, DirectoryLists.units(snapshot, q));
            case "workspaces" -> page(query, list, DirectoryLists.workspaces(snapshot, q));
            default ->
                throw Problem.unknown("There is no list \"" + list
                        + "\"; there are people, rooms, guests, services, groups, units and workspaces.");
        };
    }

    private static DirectoryLists.Accounts accounts(Kind kind, String q, Query query, Snapshot snapshot) {
        query.one("unit").ifPresent(u -> found(snapshot.estate().unit(u), "unit", u));
        query.one("group").ifPresent(g -> found(snapshot.estate().group(g), "group", g));
        return new DirectoryLists.Accounts(
                kind,
                q,
                query.one("unit").orElse(""),
                query.one("group").orElse(""),
                query.one("active").orElse(""),
                query.one("sort").orElse("name"));
    }

    private static <T> Answer page(Query query, String list, Listing<T> listing) {
        if (query.isCsv())
            return Answer.of(
                    new Csv(list + ".csv", listing.headings(), AccountPage.lines(listing.rows(), listing.cells())));
        int from = query.number("from", 0, 0, Integer.MAX_VALUE);
        int count = query.number("count", SHOWN, MOST);
        List<T> rows = listing.rows();
        return Answer.of(new DirectoryList(
                rows.size(),
                rows.subList(Math.min(from, rows.size()), (int) Math.min(rows.size(), (long) from + count)).stream()
                        .map(listing.row())
                        .toList()));
    }

    private static <T> T found(Optional<T> part, String what, String id) {
        return part.orElseThrow(() -> Problem.unknown("There is no " + what + " \"" + id + "\"."));
    }

    private Answer one(Call call) {
        Inquiry inquiry = inquiries.of(call.query(Query.about()));
        String id = call.path("id");
        Estate estate = inquiry.estate();
        return Answer.of(
                switch (call.path("list")) {
                    case "groups" -> group(found(estate.group(id), "group", id), inquiry);
                    case "workspaces" -> workspace(found(estate.workspace(id), "workspace", id), inquiry);
                    case "units" -> unit(found(estate.unit(id), "unit", id), inquiry);
                    default -> account(found(estate.account(id), "account", id), inquiry);
                });
    }

    private List<UsedBy> usedBy(Inquiry inquiry, Section section, String id) {
        return timeline.book(inquiry.snapshot()).uses(section, id).stream()
                .map(UsedBy::of)
                .toList();
    }

    private static List<NamedBy> policies(Estate estate, String target) {
        List<NamedBy> policies = new ArrayList<>();
        for (Policy policy : estate.policies())
            for (JsonNode assignment : policy.source().path("assignments")) {
                boolean include = assignment.path("include").asText().equals(target);
                if (include || assignment.path("except").asText().equals(target))
                    policies.add(new NamedBy(policy.id(), policy.name(), include, assignment));
            }
        return policies;
    }

    private static List<Named> path(Directory directory, String unit) {
        return directory.tree().path(unit).stream()
                .map(u -> new Named(u.id(), u.name()))
                .toList();
    }

    private GroupEntry group(Group group, Inquiry inquiry) {
        Directory directory = inquiry.directory();
        Estate estate = inquiry.estate();
        RoaringBitmap all = directory.members(group.id());
        int active = DirectoryLists.active(directory, all);
        return new GroupEntry(
                group.id(),
                group.name(),
                group.access(),
                active,
                all.getCardinality() - active,
                named(estate, group.owners()),
                counted(directory, group.members().groups()),
                directory.groupsAround(group.id()).stream()
                        .map(g -> groupOf(directory, g, Optional.empty()))
                        .toList(),
                members(all, directory, group.members().groups(), a -> directory.isListedIn(group.id(), a.id())),
                usedBy(inquiry, Section.GROUPS, group.id()),
                policies(estate, "group:" + group.id()));
    }

    private WorkspaceEntry workspace(Workspace workspace, Inquiry inquiry) {
        Directory directory = inquiry.directory();
        Estate estate = inquiry.estate();
        RoaringBitmap all = directory.holding(workspace.members());
        int active = DirectoryLists.active(directory, all);
        Set<String> listed = new HashSet<>(workspace.members().accounts());
        return new WorkspaceEntry(
                workspace.id(),
                workspace.name(),
                workspace.size(),
                estate.catalogue().sizes(),
                workspace.trial(),
                active,
                all.getCardinality() - active,
                named(estate, workspace.stewards()),
                counted(directory, workspace.members().groups()),
                members(all, directory, workspace.members().groups(), a -> listed.contains(a.id())),
                usedBy(inquiry, Section.WORKSPACES, workspace.id()),
                policies(estate, "workspace:" + workspace.id()));
    }

    private static List<Named> named(Estate estate, List<String> accounts) {
        return accounts.stream()
                .map(a ->
                        new Named(a, estate.account(a).map(Account::displayName).orElse(a)))
                .toList();
    }

    private static List<GroupOf> counted(Directory directory, List<String> groups) {
        return groups.stream()
                .map(g -> groupOf(directory, g, Optional.of(DirectoryLists.active(directory, directory.members(g)))))
                .toList();
    }

    private static List<MemberOf> members(
            RoaringBitmap all, Directory directory, List<String> groups, Predicate<Account> isListed) {
        return directory.byName(all).stream()
                .limit(MEMBERS_SHOWN)
                .map(a -> member(a, isListed.test(a), groups, directory))
                .toList();
    }

    private static GroupOf groupOf(Directory directory, String id, Optional<Integer> accounts) {
        Group group = directory.group(id);
        return new GroupOf(id, group.name(), group.access(), accounts);
    }

    private static MemberOf member(Account a, boolean listed, List<String> groups, Directory directory) {
        String way = listed
                ? "by name"
                : groups.stream()
                        .filter(g -> directory.members(g).contains(directory.number(a.id())))
                        .findFirst()
                        .map(g -> "by " + directory.group(g).name())
                        .orElse("");
        return new MemberOf(
                a.id(), a.displayName(), a.userName(), AccountPage.place(directory, a.unit()), a.active(), listed, way);
    }

    private UnitEntry unit(Unit unit, Inquiry inquiry) {
        Directory directory = inquiry.directory();
        RoaringBitmap all = directory.inOrBelow(unit.id());
        int active = DirectoryLists.active(directory, all);
        return new UnitEntry(
                unit.id(),
                unit.name(),
                path(directory, unit.id()),
                active,
                all.getCardinality() - active,
                DirectoryLists.active(directory, directory.directlyIn(unit.id())),
                directory.tree().children(unit.id()).stream()
                        .map(c -> new UnitBelow(
                                c.id(), c.name(), DirectoryLists.active(directory, directory.inOrBelow(c.id()))))
                        .toList(),
                usedBy(inquiry, Section.UNITS, unit.id()),
                policies(inquiry.estate(), "unit:" + unit.id()));
    }

    private AccountEntry account(Account account, Inquiry inquiry) {
        Directory directory = inquiry.directory();
        return new AccountEntry(
                account.id(),
                account.displayName(),
                account.userName(),
                account.kind(),
                account.title(),
                account.started(),
                account.active(),
                path(directory, account.unit()),
                directory.groupsOf(account.id()).stream()
                        .map(g -> groupOf(directory, g, Optional.empty()))
                        .toList(),
                usedBy(inquiry, Section.ACCOUNTS, account.id()),
                policies(inquiry.estate(), "account:" + account.id()));
    }
}
