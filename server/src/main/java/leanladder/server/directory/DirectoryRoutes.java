package leanladder.server.directory;

import com.fasterxml.jackson.annotation.JsonInclude;
import com.fasterxml.jackson.databind.JsonNode;
import java.time.Instant;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.function.Predicate;
import leanladder.catalogue.AccountKind;
import leanladder.catalogue.Need;
import leanladder.catalogue.Setting;
import leanladder.edit.session.EditSession;
import leanladder.estate.Account;
import leanladder.estate.Device;
import leanladder.estate.Estate;
import leanladder.estate.Group;
import leanladder.estate.Hosting;
import leanladder.estate.Policy;
import leanladder.estate.Unit;
import leanladder.estate.Workspace;
import leanladder.estate.read.Section;
import leanladder.json.CodePointOrder;
import leanladder.reach.AccountReach;
import leanladder.reach.Directory;
import leanladder.rule.GroupRule;
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
import leanladder.server.state.RebasedDraft;
import leanladder.server.state.Snapshot;
import leanladder.server.state.Timeline;
import leanladder.workingcopy.EntityType;
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
        WORKSPACE,
        HOSTING,
        SETTING
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

    /** One account, group, unit, workspace or hosting: what it is, what stands in it, what holds it and what uses it. */
    public sealed interface DirectoryEntry permits AccountEntry, GroupEntry, UnitEntry, WorkspaceEntry, HostingEntry {}

    /** A device of an account. @param apps by name, with the version of each */
    public record DeviceView(
            String id, String kind, Optional<String> name, Map<String, String> apps, Optional<Instant> seen) {}

    /** One account. @param groups that list it, or whose rule it fits @param attributes by name their texts */
    public record AccountEntry(
            String id,
            String name,
            String address,
            AccountKind kind,
            Optional<String> title,
            Optional<LocalDate> started,
            boolean active,
            List<NamedRef> path,
            Map<String, List<String>> attributes,
            Optional<String> language,
            List<DeviceView> devices,
            List<GroupOf> groups,
            List<ReferenceView> usedBy,
            List<PolicyReference> policies)
            implements DirectoryEntry {}

    /** One group. @param byRule how many active accounts its rule fits @param accounts those that are active @param around the groups that list it */
    public record GroupEntry(
            String id,
            String name,
            boolean access,
            Optional<String> description,
            Optional<String> rule,
            int byRule,
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
     * @param hosting on which it runs with others; empty where it has one of its own
     * @param size of what it runs on
     * @param sizes of hosting that there are, the smallest first
     * @param accounts members that are active
     * @param workers members, by name or through groups
     */
    public record WorkspaceEntry(
            String id,
            String name,
            Optional<NamedRef> hosting,
            String size,
            List<String> sizes,
            boolean trial,
            boolean running,
            int accounts,
            int inactive,
            List<NamedRef> stewards,
            List<GroupOf> groups,
            List<MemberOf> workers,
            List<ReferenceView> usedBy,
            List<PolicyReference> policies)
            implements DirectoryEntry {}

    /** A workspace on a hosting. @param accounts members that are active */
    public record HostedWorkspace(String id, String name, int accounts) {}

    /** A setting that a hosting keeps from those who work on it. @param need what it would have to be, in words */
    public record RuledOutSetting(String key, String title, String need) {}

    /**
     * One hosting.
     *
     * @param sizes of hosting that there are, the smallest first
     * @param ruledOut settings that what it is keeps from everyone who works there
     */
    public record HostingEntry(
            String id,
            String name,
            String size,
            List<String> sizes,
            boolean trial,
            boolean running,
            List<NamedRef> keepers,
            List<HostedWorkspace> workspaces,
            List<RuledOutSetting> ruledOut,
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
            case "hostings" -> page(queryParameters, list, DirectoryTables.hostings(snapshot, q));
            default ->
                throw ProblemException.unknown("There is no list \"" + list
                        + "\"; there are people, rooms, guests, services, groups, units, workspaces and hostings.");
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
                    case "hostings" -> hosting(found(estate.hosting(id), "hosting", id), queryContext);
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
                boolean include = assignment.path("include").asText().equals(target)
                        || assignment.path("in").asText().equals(target);
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
                description(group, queryContext),
                group.rule().map(GroupRule::text),
                DirectoryTables.active(directory, directory.fitting(group.id())),
                active,
                all.getCardinality() - active,
                named(estate, group.owners()),
                counted(directory, group.members().groups()),
                directory.groupsAround(group.id()).stream()
                        .map(g -> groupOf(directory, g, Optional.empty()))
                        .toList(),
                members(all, directory, group, a -> directory.isListedIn(group.id(), a.id())),
                usedBy(queryContext, Section.GROUPS, group.id()),
                policies(estate, "group:" + group.id()));
    }

    private WorkspaceEntry workspace(Workspace workspace, QueryContext queryContext) {
        Directory directory = queryContext.directory();
        Estate estate = queryContext.estate();
        RoaringBitmap all = directory.holding(workspace.members());
        int active = DirectoryTables.active(directory, all);
        Set<String> listed = new HashSet<>(workspace.members().accounts());
        Hosting on = estate.hostingOf(workspace);
        return new WorkspaceEntry(
                workspace.id(),
                workspace.name(),
                DirectoryTables.shared(estate, workspace).map(h -> new NamedRef(h.id(), h.name())),
                on.size(),
                estate.catalogue().sizes(),
                on.trial(),
                on.running(),
                active,
                all.getCardinality() - active,
                named(estate, workspace.stewards()),
                counted(directory, workspace.members().groups()),
                members(
                        all,
                        directory,
                        workspace.members().groups(),
                        RoaringBitmap.bitmapOf(),
                        a -> listed.contains(a.id())),
                usedBy(queryContext, Section.WORKSPACES, workspace.id()),
                policies(estate, "workspace:" + workspace.id()));
    }

    private HostingEntry hosting(Hosting hosting, QueryContext queryContext) {
        Directory directory = queryContext.directory();
        Estate estate = queryContext.estate();
        return new HostingEntry(
                hosting.id(),
                hosting.name(),
                hosting.size(),
                estate.catalogue().sizes(),
                hosting.trial(),
                hosting.running(),
                named(estate, hosting.keepers()),
                estate.workspaces().stream()
                        .filter(w -> w.hosting().equals(Optional.of(hosting.id())))
                        .map(w -> new HostedWorkspace(
                                w.id(), w.name(), DirectoryTables.active(directory, directory.holding(w.members()))))
                        .sorted(Comparator.comparing(HostedWorkspace::name))
                        .toList(),
                ruledOut(hosting, queryContext),
                usedBy(queryContext, Section.HOSTINGS, hosting.id()),
                policies(estate, "hosting:" + hosting.id()));
    }

    /** The settings with a need of their own that no workspace on the hosting meets. */
    private static List<RuledOutSetting> ruledOut(Hosting hosting, QueryContext queryContext) {
        Estate estate = queryContext.estate();
        List<String> sizes = estate.catalogue().sizes();
        List<RuledOutSetting> ruledOut = new ArrayList<>();
        for (Setting setting : estate.catalogue().settings().values())
            setting.needs().stream()
                    .filter(Need.Hosting.class::isInstance)
                    .map(Need.Hosting.class::cast)
                    .filter(n -> !hosting.running()
                            || sizes.indexOf(hosting.size()) < sizes.indexOf(n.size())
                            || hosting.trial() && !n.allowTrial())
                    .findFirst()
                    .ifPresent(n -> ruledOut.add(new RuledOutSetting(
                            setting.key(),
                            setting.title(),
                            queryContext.estateFormatter().need(n))));
        return ruledOut;
    }

    private Optional<String> description(Group group, QueryContext queryContext) {
        EditSession editSession = queryContext
                .draft()
                .map(RebasedDraft::editSession)
                .orElseGet(() -> timeline.editSession(queryContext.snapshot()));
        return Optional.of(editSession
                        .overlay()
                        .wholeBody(EntityType.GROUP, group.id())
                        .path("description")
                        .asText(""))
                .filter(text -> !text.isBlank());
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
            RoaringBitmap all, Directory directory, Group group, Predicate<Account> isListed) {
        return members(all, directory, group.members().groups(), directory.fitting(group.id()), isListed);
    }

    /** @param byRule those whom a rule brings in */
    private static List<MemberOf> members(
            RoaringBitmap all,
            Directory directory,
            List<String> groups,
            RoaringBitmap byRule,
            Predicate<Account> isListed) {
        return directory.byName(all).stream()
                .limit(MEMBERS_SHOWN)
                .map(a -> member(a, isListed.test(a), byRule, groups, directory))
                .toList();
    }

    private static GroupOf groupOf(Directory directory, String id, Optional<Integer> accounts) {
        Group group = directory.group(id);
        return new GroupOf(id, group.name(), group.access(), accounts);
    }

    private static MemberOf member(
            Account a, boolean listed, RoaringBitmap byRule, List<String> groups, Directory directory) {
        String way = listed
                ? "by name"
                : byRule.contains(directory.number(a.id()))
                        ? "by rule"
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

    private static DeviceView device(Device device, Estate estate) {
        Map<String, String> apps = new TreeMap<>();
        device.apps()
                .forEach((app, version) -> apps.put(estate.catalogue().apps().getOrDefault(app, app), version.text()));
        return new DeviceView(device.id(), device.kind(), device.name(), apps, device.seen());
    }

    /** The groups that list an account, or whose rule it fits. */
    private static List<String> directlyIn(Directory directory, Account account) {
        return new AccountReach(directory, account)
                .groups().entrySet().stream()
                        .filter(path -> path.getValue().size() == 1)
                        .map(Map.Entry::getKey)
                        .sorted(CodePointOrder.TEXTS)
                        .toList();
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
                account.attributes(),
                account.language(),
                account.devices().stream()
                        .map(d -> device(d, queryContext.estate()))
                        .toList(),
                directlyIn(directory, account).stream()
                        .map(g -> groupOf(directory, g, Optional.empty()))
                        .toList(),
                usedBy(queryContext, Section.ACCOUNTS, account.id()),
                policies(queryContext.estate(), "account:" + account.id()));
    }
}
