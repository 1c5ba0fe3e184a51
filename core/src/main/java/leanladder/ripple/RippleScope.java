package leanladder.ripple;

import java.time.Instant;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.NavigableSet;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.stream.Collectors;
import leanladder.catalogue.Need;
import leanladder.catalogue.Setting;
import leanladder.estate.Account;
import leanladder.estate.Assignment;
import leanladder.estate.Estate;
import leanladder.estate.Group;
import leanladder.estate.Plan;
import leanladder.estate.Policy;
import leanladder.estate.Target;
import leanladder.estate.Workspace;
import leanladder.reach.Directory;
import leanladder.resolve.CompiledEstate;
import leanladder.workingcopy.WriteSet;
import org.roaringbitmap.RoaringBitmap;

/**
 * The accounts and settings that edits can affect: a superset of what changes, so that a ripple resolves nothing else.
 *
 * <p>An edited policy can affect the accounts that it includes before or after the edit, in the settings on which it has statements. An edited group can
 * affect the accounts that join or leave it, or a group around it, in the settings of the policies, plans and releases that name these groups. An edited
 * account, and every account in or below a unit that moves, can be affected in all settings; if only its consents differ, in the settings with a release
 * need. Seats that are reallocated add their previous and new holders, in the settings that need a component of the plan.
 */
final class RippleScope {
    private final CompiledEstate before;
    private final CompiledEstate after;
    private final WriteSet writeSet;
    private final RoaringBitmap accounts = new RoaringBitmap();
    private final RoaringBitmap moved = new RoaringBitmap();
    private final Set<String> settings = new HashSet<>();
    private final Set<String> groups = new HashSet<>();
    private final Set<String> plans = new HashSet<>();
    private final Set<String> workspaces = new TreeSet<>();
    private final Set<Class<? extends Need>> concerned = new HashSet<>();

    RippleScope(CompiledEstate before, CompiledEstate after, WriteSet writeSet) {
        this.writeSet = writeSet;
        this.before = before;
        this.after = after;
        namedByPolicies();
        aroundGroups();
        people();
        releases();
        catalogue();
        hosting();
        seats();
    }

    private List<CompiledEstate> beforeAndAfter() {
        return List.of(before, after);
    }

    private void namedByPolicies() {
        settings.addAll(writeSet.settings());
        for (Policy policy : speakingInWorkspaces())
            for (Assignment a : policy.assignments()) a.place().ifPresent(this::addWorkspaces);
        for (CompiledEstate side : beforeAndAfter())
            for (String id : writeSet.policies())
                side.estate()
                        .policy(id)
                        .ifPresent(p -> p.assignments().stream()
                                .filter(Assignment::include)
                                .filter(a -> a.place().isEmpty())
                                .forEach(a -> accounts.or(holding(side.directory(), a.target()))));
    }

    /** A workspace itself, and of a hosting all that run on it, before or after. */
    private void addWorkspaces(Target place) {
        if (place instanceof Target.WorkspaceTarget workspace) workspaces.add(workspace.id());
        if (place instanceof Target.HostingTarget hosting)
            for (CompiledEstate side : beforeAndAfter())
                side.estate().workspaces().stream()
                        .filter(w -> w.hosting().equals(Optional.of(hosting.id())))
                        .forEach(w -> workspaces.add(w.id()));
    }

    /** As {@link Directory#holding(Target)}, without a copy. */
    private static RoaringBitmap holding(Directory directory, Target target) {
        if (target instanceof Target.GroupTarget group) return directory.members(group.id());
        if (target instanceof Target.UnitTarget unit) return directory.inOrBelow(unit.id());
        return directory.holding(target);
    }

    /** Policies that are edited, and those that speak on a setting that is opened or closed to workspaces; before or after. */
    private List<Policy> speakingInWorkspaces() {
        List<Policy> touched = new ArrayList<>();
        for (CompiledEstate side : beforeAndAfter()) {
            for (String id : writeSet.policies()) side.estate().policy(id).ifPresent(touched::add);
            for (String key : writeSet.catalogue()) side.statementsOn(key).forEach(s -> touched.add(s.policy()));
        }
        return touched;
    }

    private void aroundGroups() {
        ArrayDeque<String> open = new ArrayDeque<>(writeSet.groups());
        open.addAll(byRule());
        while (!open.isEmpty()) {
            String id = open.pop();
            if (!groups.add(id)) continue;
            for (CompiledEstate side : beforeAndAfter())
                open.addAll(side.directory().groupsAround(id));
        }
        if (groups.isEmpty()) return;
        inRoles();
        for (String id : groups)
            accounts.or(RoaringBitmap.xor(
                    before.directory().members(id), after.directory().members(id)));
        for (CompiledEstate side : beforeAndAfter()) {
            for (Policy policy : side.estate().policies())
                if (policy.assignments().stream().anyMatch(a -> isTouched(a.target())))
                    policy.statements().forEach(s -> settings.add(s.setting()));
            side.estate().releases().stream()
                    .filter(r -> r.early().stream().anyMatch(e -> isTouched(e.to())))
                    .forEach(r -> settings.add(r.setting()));
        }
    }

    /** The groups whose rule fits others than before. */
    private List<String> byRule() {
        return beforeAndAfter().stream()
                .flatMap(side -> side.estate().groups().stream())
                .filter(g -> g.rule().isPresent())
                .map(Group::id)
                .distinct()
                .filter(id ->
                        !before.directory().fitting(id).equals(after.directory().fitting(id)))
                .toList();
    }

    /** Where a role is asked for, who is in a group that has it matters to its workspace. */
    private void inRoles() {
        Set<String> asking = asking(Need.WorkspaceRole.class);
        if (asking.isEmpty()) return;
        for (CompiledEstate side : beforeAndAfter())
            for (Workspace workspace : side.estate().workspaces())
                if (workspace.members().groups().stream().anyMatch(groups::contains)) {
                    workspaces.add(workspace.id());
                    settings.addAll(asking);
                }
    }

    private boolean isTouched(Target target) {
        return target instanceof Target.GroupTarget group && groups.contains(group.id());
    }

    private void people() {
        writeSet.accounts().forEach(id -> {
            Optional<Account> was = before.estate().account(id);
            Optional<Account> is = after.estate().account(id);
            if (was.isEmpty() && is.isEmpty()) return;
            int n = after.directory().number(id);
            if (was.isEmpty() || is.isEmpty() || !sameForResolution(was.get(), is.get())) moved.add(n);
            else {
                if (!was.get().consents().equals(is.get().consents())) concerned(n, Need.ReleaseNeed.class);
                if (!was.get().devices().equals(is.get().devices())) concerned(n, Need.Device.class);
            }
        });
        if (writeSet.tree())
            writeSet.units().forEach(unit -> {
                for (CompiledEstate side : beforeAndAfter())
                    if (side.estate().unit(unit).isPresent())
                        moved.or(side.directory().inOrBelow(unit));
            });
        accounts.or(moved);
        if (!moved.isEmpty())
            for (CompiledEstate side : beforeAndAfter())
                settings.addAll(side.estate().catalogue().settings().keySet());
    }

    /** A word on previews matters to what is released and a device to what asks for one, and to nothing else. */
    private void concerned(int account, Class<? extends Need> kind) {
        accounts.add(account);
        settings.addAll(asking(kind));
        concerned.add(kind);
    }

    private Set<String> asking(Class<? extends Need> kind) {
        Set<String> asking = new HashSet<>();
        for (CompiledEstate side : beforeAndAfter())
            asking.addAll(side.estate().catalogue().asking(kind));
        return asking;
    }

    /** Whether nothing that decides outcomes or seats differs, consents aside. */
    private static boolean sameForResolution(Account was, Account is) {
        return was.unit().equals(is.unit())
                && was.kind() == is.kind()
                && was.active() == is.active()
                && was.started().equals(is.started());
    }

    /** A release can come to anybody. */
    private void releases() {
        if (writeSet.releases().isEmpty()) return;
        for (CompiledEstate side : beforeAndAfter())
            accounts.or(side.directory().active());
    }

    /** A setting whose own definition decides something else can affect everybody. */
    private void catalogue() {
        boolean redefined = writeSet.catalogue().stream()
                .anyMatch(key -> !sameForResolution(
                        before.estate().catalogue().setting(key),
                        after.estate().catalogue().setting(key)));
        if (!redefined) return;
        for (CompiledEstate side : beforeAndAfter())
            accounts.or(side.directory().active());
    }

    private static boolean sameForResolution(Optional<Setting> was, Optional<Setting> is) {
        if (was.isEmpty() || is.isEmpty()) return was.isEmpty() && is.isEmpty();
        return was.get().decidesLike(is.get());
    }

    /** Hosting is asked for by those who work in a workspace; whoever else may is found when it is asked about. */
    private void hosting() {
        boolean resized = writeSet.frame()
                && !before.estate()
                        .catalogue()
                        .sizes()
                        .equals(after.estate().catalogue().sizes());
        if (writeSet.workspaces().isEmpty() && writeSet.hostings().isEmpty() && !resized) return;
        workspaces.addAll(writeSet.workspaces());
        writeSet.hostings().forEach(id -> addWorkspaces(new Target.HostingTarget(id)));
        if (resized) before.estate().workspaces().forEach(w -> workspaces.add(w.id()));
        settings.addAll(asking(Need.Hosting.class));
        settings.addAll(asking(Need.WorkspaceRole.class));
        for (CompiledEstate side : beforeAndAfter())
            side.estate().policies().stream()
                    .filter(p -> p.assignments().stream()
                            .anyMatch(a -> a.place()
                                    .filter(Target.HostingTarget.class::isInstance)
                                    .isPresent()))
                    .forEach(p -> p.statements().forEach(s -> settings.add(s.setting())));
    }

    private void seats() {
        plans.addAll(writeSet.plans());
        if (groups.isEmpty() && moved.isEmpty()) return;
        for (Plan plan : after.estate().plans()) {
            boolean touched = plan.assignments().stream()
                    .map(Assignment::target)
                    .anyMatch(t -> isTouched(t)
                            || !moved.isEmpty()
                                    && (RoaringBitmap.intersects(holding(before.directory(), t), moved)
                                            || RoaringBitmap.intersects(holding(after.directory(), t), moved)));
            if (touched) plans.add(plan.id());
        }
    }

    /** Ids of the plans whose seats can pass on. */
    Set<String> plans() {
        return plans;
    }

    /** Everyone whose account is edited so that it matters, or is in or below a unit that moves. */
    RoaringBitmap moved() {
        return moved;
    }

    /** Whether every policy reaches whom it reached, in the same way. */
    boolean audiencesUnchanged() {
        return before.estate().policies() == after.estate().policies()
                && writeSet.policies().isEmpty()
                && writeSet.catalogue().isEmpty()
                && !writeSet.frame()
                && groups.isEmpty()
                && moved.isEmpty()
                && !writeSet.tree()
                && workspaces.isEmpty();
    }

    /** Whether the edits alter nothing that matters but words on previews. */
    boolean onlyConsentsChanged() {
        return audiencesUnchanged()
                && plans.isEmpty()
                && writeSet.releases().isEmpty()
                && !writeSet.rings()
                && !concerned.contains(Need.Device.class);
    }

    RoaringBitmap accounts() {
        return accounts;
    }

    Set<String> settings() {
        return settings;
    }

    /** Ids of workspaces that touched policies name. */
    Set<String> workspaces() {
        return workspaces;
    }

    /** Keys of the settings that ask for one of these components, at any depth. */
    Set<String> settingsAskingFor(Set<String> components) {
        return beforeAndAfter().stream()
                .flatMap(side -> side.estate().catalogue().settings().values().stream())
                .filter(setting -> setting.allNeeds()
                        .anyMatch(n -> n instanceof Need.Entitlement e
                                && e.anyOf().stream().anyMatch(components::contains)))
                .map(Setting::key)
                .collect(Collectors.toSet());
    }

    /** What the plans carry whose seats can pass on, before or after the edits. */
    Set<String> components() {
        Set<String> components = new HashSet<>();
        for (CompiledEstate side : beforeAndAfter())
            for (Plan plan : side.estate().plans()) if (plans.contains(plan.id())) components.addAll(plan.components());
        return components;
    }

    /**
     * The instants after this one at which something begins or ends by itself that decides what the edits touch: windows of
     * policies that speak on the settings, or on settings that these depend on, openings, consents, and terms. A setting that asks for a
     * component of a touched plan is such a setting too: a seat may pass on now and matter only once a policy decides something.
     * Linear in the consents of those whom the edits touch.
     */
    NavigableSet<Instant> edgesAfter(Instant at) {
        TreeSet<Instant> edges = new TreeSet<>();
        Set<String> reachable = settingsAskingFor(components());
        reachable.addAll(settings);
        for (CompiledEstate side : beforeAndAfter()) {
            Estate estate = side.estate();
            List<Setting> masked = estate.catalogue()
                    .withDependencies(estate.catalogue().withDependents(reachable).stream()
                            .map(Setting::key)
                            .toList());
            Set<String> keys = masked.stream().map(Setting::key).collect(Collectors.toSet());
            Set<String> released = estate.catalogue().asking(Need.ReleaseNeed.class);
            for (Policy policy : estate.policies())
                if (writeSet.policies().contains(policy.id())
                        || policy.statements().stream().anyMatch(s -> keys.contains(s.setting())))
                    policy.assignments().forEach(a -> a.window().edges().forEach(edges::add));
            for (Setting setting : masked)
                if (released.contains(setting.key()))
                    estate.release(setting.key()).ifPresent(r -> {
                        r.edges().forEach(edges::add);
                    });
            if (keys.stream().anyMatch(released::contains))
                consenting(side.directory())
                        .forEach((int n) -> side.directory()
                                .account(n)
                                .consents()
                                .forEach(consent -> consent.edges().forEach(edges::add)));
            boolean licensed = !plans.isEmpty()
                    || keys.stream().anyMatch(estate.catalogue().asking(Need.Entitlement.class)::contains);
            if (licensed)
                for (Plan plan : estate.plans()) {
                    plan.term().edges().forEach(edges::add);
                    plan.edges().forEach(edges::add);
                }
        }
        return edges.tailSet(at, false);
    }

    /** Whose consents can matter: a seat that passes on can go to anybody. */
    private RoaringBitmap consenting(Directory directory) {
        return plans.isEmpty() ? RoaringBitmap.and(directory.consenting(), accounts) : directory.consenting();
    }
}
