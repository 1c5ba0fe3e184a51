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
import leanladder.catalogue.AccountKind;
import leanladder.estate.Account;
import leanladder.estate.Estate;
import leanladder.estate.Group;
import leanladder.estate.Policy;
import leanladder.estate.Unit;
import leanladder.estate.Workspace;
import leanladder.estate.read.Section;
import leanladder.reach.Directory;
import leanladder.server.directory.DirectoryTables.Listing;
import leanladder.server.http.CsvResponse;
import leanladder.server.http.ProblemException;
import leanladder.server.http.QueryParameters;
import leanladder.server.http.RequestContext;
import leanladder.server.http.Response;
import leanladder.server.http.RouteGroup;
import leanladder.server.http.RouteRegistry;
import leanladder.server.http.description.SchemaRef;
import leanladder.server.paging.AccountPage;
import leanladder.server.paging.NamedRef;
import leanladder.server.query.QueryContext;
import leanladder.server.state.Snapshot;
import leanladder.server.state.Timeline;
import leanladder.workingcopy.Reference;
import org.roaringbitmap.RoaringBitmap;

/** Who and what there is: people, rooms, guests, services, groups, units and workspaces, as lists and one by one. */
public record DirectoryRoutes(Timeline timeline, QueryContext.Reader queries) implements RouteGroup {
    private static final int SHOWN = 200;
    private static final int MOST = 1000;
    private static final int MEMBERS_SHOWN = 5000;
    private static final Map<String, AccountKind> KINDS = Map.of(
            "people",
            AccountKind.PERSON,
            "rooms",
            AccountKind.ROOM,
            "guests",
            AccountKind.GUEST,
            "services",
            AccountKind.SERVICE);

    /** A page of a list. */
    public record DirectoryList(int total, List<DirectoryTables.Row> rows) {}

    /** Something that names a part: what it is, and how it reads. */
    public record ReferenceView(UserKind kind, String id, String name, String words) {
        static ReferenceView of(Reference reference) {
            return new ReferenceView(
                    UserKind.valueOf(reference.by().name()), reference.id(), reference.name(), reference.words());
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
    public record PolicyReference(
            String id,
            String name,
            boolean include,
            @SchemaRef("Assignment") JsonNode assignment) {}

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
            AccountKind kind,
            Optional<String> title,
            Optional<LocalDate> started,
            boolean active,
            List<NamedRef> path,
            List<GroupOf> groups,
            List<ReferenceView> usedBy,
            List<PolicyReference> policies)
            implements DirectoryEntry {}

    /** One group. @param accounts those that are active @param around the groups that list it */
    public record GroupEntry(
            String id,
            String name,
            boolean access,
            int accounts,
            int inactive,
            List<NamedRef> owners,
            List<GroupOf> groups,
            List<GroupOf> around,
            List<MemberOf> members,
            List<ReferenceView> usedBy,
            List<PolicyReference> policies)
            implements DirectoryEntry {}

    /** One unit. @param accounts those that are active, in it and below it @param direct in the unit itself */
    public record UnitEntry(
            String id,
            String name,
            List<NamedRef> path,
            int accounts,
            int inactive,
            int direct,
            List<UnitBelow> children,
            List<ReferenceView> usedBy,
            List<PolicyReference> policies)
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
            List<NamedRef> stewards,
            List<GroupOf> groups,
            List<MemberOf> workers,
            List<ReferenceView> usedBy,
            List<PolicyReference> policies)
            implements DirectoryEntry {}

    @Override
    public void routes(RouteRegistry routeRegistry) {
        routeRegistry.get("/directory/{list}", this::list, DirectoryList.class);
        routeRegistry.get("/directory/{list}/{id}", this::one, DirectoryEntry.class);
    }

    private Response list(RequestContext requestContext) {
        QueryParameters queryParameters = requestContext.query(
                QueryParameters.about("q", "unit", "group", "active", "purpose", "sort", "from", "count", "format"));
        Snapshot snapshot = queries.read(queryParameters).snapshot();
        String list = requestContext.path("list");
        String q = queryParameters.one("q").orElse("");
        if (KINDS.containsKey(list))
            return page(queryParameters, list, snapshot.get(accounts(KINDS.get(list), q, queryParameters, snapshot)));
        return switch (list) {
            case "groups" ->
                page(queryParameters, list, DirectoryTables.groups(snapshot, queryParameters.one("purpose"), q));
            case "units" -> page(queryParameters, list, DirectoryTables.units(snapshot, q));
            case "workspaces" -> page(queryParameters, list, DirectoryTables.workspaces(snapshot, q));
            default ->
                throw ProblemException.unknown("There is no list \"" + list
                        + "\"; there are people, rooms, guests, services, groups, units and workspaces.");
        };
    }

    private static DirectoryTables.Accounts accounts(
            AccountKind accountKind, String q, QueryParameters queryParameters, Snapshot snapshot) {
        queryParameters.one("unit").ifPresent(u -> found(snapshot.estate().unit(u), "unit", u));
        queryParameters.one("group").ifPresent(g -> found(snapshot.estate().group(g), "group", g));
        return new DirectoryTables.Accounts(
                accountKind,
                q,
                queryParameters.one("unit").orElse(""),
                queryParameters.one("group").orElse(""),
                queryParameters.one("active").orElse(""),
                queryParameters.one("sort").orElse("name"));
    }

    private static <T> Response page(QueryParameters queryParameters, String list, Listing<T> listing) {
        if (queryParameters.isCsv())
            return Response.of(new CsvResponse(
                    list + ".csv", listing.headings(), AccountPage.lines(listing.rows(), listing.cells())));
        int from = queryParameters.number("from", 0, 0, Integer.MAX_VALUE);
        int count = queryParameters.number("count", SHOWN, MOST);
        List<T> rows = listing.rows();
        return Response.of(new DirectoryList(
                rows.size(),
                rows.subList(Math.min(from, rows.size()), (int) Math.min(rows.size(), (long) from + count)).stream()
                        .map(listing.row())
                        .toList()));
    }

    private static <T> T found(Optional<T> part, String what, String id) {
        return part.orElseThrow(() -> ProblemException.unknown("There is no " + what + " \"" + id + "\"."));
    }

    private Response one(RequestContext requestContext) {
        QueryContext queryContext = queries.read(requestContext.query(QueryParameters.about()));
        String id = requestContext.path("id");
        Estate estate = queryContext.estate();
        return Response.of(
                switch (requestContext.path("list")) {
                    case "groups" -> group(found(estate.group(id), "group", id), queryContext);
                    case "workspaces" -> workspace(found(estate.workspace(id), "workspace", id), queryContext);
                    case "units" -> unit(found(estate.unit(id), "unit", id), queryContext);
                    default -> account(found(estate.account(id), "account", id), queryContext);
                });
    }

    private List<ReferenceView> usedBy(QueryContext queryContext, Section section, String id) {
        return timeline.editSession(queryContext.snapshot()).uses(section, id).stream()
                .map(ReferenceView::of)
                .toList();
    }

    private static List<PolicyReference> policies(Estate estate, String target) {
        List<PolicyReference> policies = new ArrayList<>();
        for (Policy policy : estate.policies())
            for (JsonNode assignment : policy.source().path("assignments")) {
                boolean include = assignment.path("include").asText().equals(target);
                if (include || assignment.path("except").asText().equals(target))
                    policies.add(new PolicyReference(policy.id(), policy.name(), include, assignment));
            }
        return policies;
    }

    private static List<NamedRef> path(Directory directory, String unit) {
        return directory.tree().path(unit).stream()
                .map(u -> new NamedRef(u.id(), u.name()))
                .toList();
    }

    private GroupEntry group(Group group, QueryContext queryContext) {
        Directory directory = queryContext.directory();
        Estate estate = queryContext.estate();
        RoaringBitmap all = directory.members(group.id());
        int active = DirectoryTables.active(directory, all);
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
                usedBy(queryContext, Section.GROUPS, group.id()),
                policies(estate, "group:" + group.id()));
    }

    private WorkspaceEntry workspace(Workspace workspace, QueryContext queryContext) {
        Directory directory = queryContext.directory();
        Estate estate = queryContext.estate();
        RoaringBitmap all = directory.holding(workspace.members());
        int active = DirectoryTables.active(directory, all);
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
                usedBy(queryContext, Section.WORKSPACES, workspace.id()),
                policies(estate, "workspace:" + workspace.id()));
    }

    private static List<NamedRef> named(Estate estate, List<String> accounts) {
        return accounts.stream()
                .map(a -> new NamedRef(
                        a, estate.account(a).map(Account::displayName).orElse(a)))
                .toList();
    }

    private static List<GroupOf> counted(Directory directory, List<String> groups) {
        return groups.stream()
                .map(g -> groupOf(directory, g, Optional.of(DirectoryTables.active(directory, directory.members(g)))))
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

    private UnitEntry unit(Unit unit, QueryContext queryContext) {
        Directory directory = queryContext.directory();
        RoaringBitmap all = directory.inOrBelow(unit.id());
        int active = DirectoryTables.active(directory, all);
        return new UnitEntry(
                unit.id(),
                unit.name(),
                path(directory, unit.id()),
                active,
                all.getCardinality() - active,
                DirectoryTables.active(directory, directory.directlyIn(unit.id())),
                directory.tree().children(unit.id()).stream()
                        .map(c -> new UnitBelow(
                                c.id(), c.name(), DirectoryTables.active(directory, directory.inOrBelow(c.id()))))
                        .toList(),
                usedBy(queryContext, Section.UNITS, unit.id()),
                policies(queryContext.estate(), "unit:" + unit.id()));
    }

    private AccountEntry account(Account account, QueryContext queryContext) {
        Directory directory = queryContext.directory();
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
                usedBy(queryContext, Section.ACCOUNTS, account.id()),
                policies(queryContext.estate(), "account:" + account.id()));
    }
}
