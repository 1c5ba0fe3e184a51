package leanladder.estate;

import java.util.AbstractList;
import java.util.ArrayList;
import java.util.Collection;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.RandomAccess;
import java.util.Set;
import java.util.function.Function;
import leanladder.catalogue.Catalogue;
import leanladder.catalogue.CatalogueFrame;
import leanladder.catalogue.Setting;
import leanladder.json.CodePointOrder;
import leanladder.json.PersistentList;

/**
 * Everything that decides outcomes, checked: every reference holds. Lists without an order of their own are sorted by id,
 * so that two files that say the same make equal estates.
 */
public final class Estate {
    private final Organisation organisation;
    private final List<Unit> units;
    private final List<Account> accounts;
    private final List<Group> groups;
    private final List<Workspace> workspaces;
    private final List<Hosting> hostings;
    private final Catalogue catalogue;
    private final List<Policy> policies;
    private final List<Plan> plans;
    private final Map<String, List<Plan.Holder>> holders;
    private final Track mainTrack;
    private final List<Track> tracks;
    private final Map<String, Release> releases;
    private final List<Feedback> feedback;
    private final Set<String> pictures;
    private final Map<String, Policy> policyById;
    private final Map<String, Integer> rank;
    private final Map<String, Unit> unitById;
    private final Map<String, Group> groupById;

    /**
     * Takes parts that the reader has checked.
     *
     * @param ranking names policies, strongest first
     * @param holders by plan who holds its seats, where the ledger stands nowhere else
     * @param pictures hashes of the pictures whose contents are there
     */
    public Estate(
            Organisation organisation,
            List<Unit> units,
            List<Account> accounts,
            List<Group> groups,
            List<Workspace> workspaces,
            List<Hosting> hostings,
            Catalogue catalogue,
            List<Policy> policies,
            List<String> ranking,
            List<Plan> plans,
            Map<String, List<Plan.Holder>> holders,
            List<Ring> rings,
            List<Track> tracks,
            List<Release> releases,
            List<Feedback> feedback,
            Set<String> pictures) {
        this.organisation = organisation;
        this.units = sorted(units, Unit::id);
        this.accounts = sorted(accounts, Account::id);
        this.groups = sorted(groups, Group::id);
        this.workspaces = sorted(workspaces, Workspace::id);
        this.hostings = sorted(hostings, Hosting::id);
        this.catalogue = catalogue;
        this.plans = sorted(plans, Plan::id);
        this.holders = holders;
        this.mainTrack = Track.main(List.copyOf(rings));
        this.tracks = List.copyOf(tracks);
        this.releases = new HashMap<>();
        releases.forEach(r -> this.releases.put(r.setting(), r));
        this.feedback = sorted(feedback, Feedback::id);
        this.pictures = pictures;
        unitById = byId(this.units, Unit::id);
        groupById = byId(this.groups, Group::id);
        rank = new HashMap<>();
        ranking.forEach(id -> rank.put(id, rank.size()));
        List<Policy> byId = sorted(policies, Policy::id);
        byId.forEach(p -> rank.putIfAbsent(p.id(), rank.size()));
        policyById = byId(byId, Policy::id);
        this.policies = byId.stream()
                .sorted(Comparator.comparing(p -> rank.get(p.id())))
                .toList();
    }

    /** Another one with the same policies; what did not change is shared. */
    private Estate(Estate before, EstateDelta changes) {
        organisation = before.organisation;
        units = changed(before.units, Unit::id, changes.units);
        accounts = changed(before.accounts, Account::id, changes.accounts);
        groups = changed(before.groups, Group::id, changes.groups);
        workspaces = changed(before.workspaces, Workspace::id, changes.workspaces);
        hostings = changed(before.hostings, Hosting::id, changes.hostings);
        policies = before.policies;
        policyById = before.policyById;
        rank = before.rank;
        plans = changed(before.plans, Plan::id, changes.plans);
        holders = before.holders;
        mainTrack = changes.rings.map(List::copyOf).map(Track::main).orElse(before.mainTrack);
        tracks = changes.tracks.map(List::copyOf).orElse(before.tracks);
        releases = changes.releases.isEmpty() ? before.releases : before.releases(changes.releases);
        catalogue = before.catalogue.with(
                changes.settings, changes.catalogue.orElse(before.catalogue.frame()), ringSettings());
        feedback = changed(before.feedback, Feedback::id, changes.feedback);
        pictures = before.pictures;
        unitById = units == before.units ? before.unitById : byId(units, Unit::id);
        groupById = groups == before.groups ? before.groupById : byId(groups, Group::id);
    }

    private static <T> Map<String, T> byId(List<T> parts, Function<T, String> id) {
        Map<String, T> byId = new HashMap<>();
        parts.forEach(p -> byId.put(id.apply(p), p));
        return byId;
    }

    private static <T> List<T> sorted(List<T> parts, Function<T, String> id) {
        if (parts instanceof SortedRecords<T>) return parts;
        List<T> sorted = new ArrayList<>(parts);
        sorted.sort(Comparator.comparing(id, CodePointOrder.TEXTS));
        return new SortedRecords<>(sorted);
    }

    /** Marks a list as sorted by id, so that an estate made from another does not sort it again. */
    private static final class SortedRecords<T> extends AbstractList<T> implements RandomAccess {
        private final PersistentList<T> parts;

        SortedRecords(List<T> parts) {
            this.parts = PersistentList.of(parts);
        }

        @Override
        public T get(int index) {
            return parts.get(index);
        }

        @Override
        public int size() {
            return parts.size();
        }
    }

    /** The part of this id in a list sorted by id; a binary search. */
    private static <T> Optional<T> find(List<T> parts, Function<T, String> id, String wanted) {
        int at = indexOf(parts, id, wanted);
        return at < 0 ? Optional.empty() : Optional.of(parts.get(at));
    }

    private static <T> int indexOf(List<T> parts, Function<T, String> id, String wanted) {
        int low = 0;
        int high = parts.size() - 1;
        while (low <= high) {
            int middle = (low + high) >>> 1;
            int compared = CodePointOrder.TEXTS.compare(id.apply(parts.get(middle)), wanted);
            if (compared == 0) return middle;
            if (compared < 0) low = middle + 1;
            else high = middle - 1;
        }
        return -low - 1;
    }

    /**
     * A sorted list with some parts put, in place of those of the same id or beside them, and some taken away.
     *
     * @param changed by id what stands there from now on; empty for what is no more
     */
    private static <T> List<T> changed(List<T> parts, Function<T, String> id, Map<String, Optional<T>> changed) {
        if (changed.isEmpty()) return parts;
        Map<Integer, T> replaced = new HashMap<>();
        List<T> added = new ArrayList<>();
        boolean removed = false;
        for (var change : changed.entrySet()) {
            int at = indexOf(parts, id, change.getKey());
            if (at >= 0) {
                replaced.put(at, change.getValue().orElse(null));
                removed |= change.getValue().isEmpty();
            } else change.getValue().ifPresent(added::add);
        }
        PersistentList<T> edited = ((SortedRecords<T>) sorted(parts, id)).parts.with(replaced, List.of());
        if (!removed && added.isEmpty()) return new SortedRecords<>(edited);
        List<T> kept = new ArrayList<>(edited);
        if (removed) kept.removeIf(java.util.Objects::isNull);
        if (!added.isEmpty()) {
            kept.addAll(added);
            kept.sort(Comparator.comparing(id, CodePointOrder.TEXTS));
        }
        return new SortedRecords<>(kept);
    }

    /**
     * What stands from now on in place of some parts, by id; empty for what is no more.
     *
     * @param plans with their rules and purchases; their ledger is kept elsewhere
     * @param catalogue all of it but the settings, where it is not the same
     * @param rings all of the main track, where they are not the same
     * @param tracks all further ones, where they are not the same
     */
    public record EstateDelta(
            Map<String, Optional<Unit>> units,
            Map<String, Optional<Account>> accounts,
            Map<String, Optional<Group>> groups,
            Map<String, Optional<Workspace>> workspaces,
            Map<String, Optional<Hosting>> hostings,
            Map<String, Optional<Plan>> plans,
            Map<String, Optional<Setting>> settings,
            Map<String, Optional<Release>> releases,
            Map<String, Optional<Feedback>> feedback,
            Optional<CatalogueFrame> catalogue,
            Optional<List<Ring>> rings,
            Optional<List<Track>> tracks) {}

    /**
     * This estate with some parts put or taken away; the caller has seen to it that every reference holds. Linear in the lists
     * touched, whatever else there is.
     */
    public Estate with(EstateDelta changes) {
        return new Estate(this, changes);
    }

    private Map<String, Release> releases(Map<String, Optional<Release>> changed) {
        Map<String, Release> all = new HashMap<>(releases);
        changed.forEach((setting, release) -> {
            all.remove(setting);
            release.ifPresent(r -> all.put(setting, r));
        });
        return all;
    }

    /** Whether this estate has the very rings and releases of another. */
    public boolean hasReleasesOf(Estate other) {
        return rings().equals(other.rings())
                && tracks.equals(other.tracks)
                && releases.size() == other.releases.size()
                && releases.entrySet().stream().allMatch(r -> other.releases.get(r.getKey()) == r.getValue());
    }

    /** This estate with other policies and another ranking; everything else is shared. */
    public Estate withPolicies(List<Policy> changed, List<String> ranking) {
        return new Estate(
                organisation,
                units,
                accounts,
                groups,
                workspaces,
                hostings,
                catalogue,
                changed,
                ranking,
                plans,
                holders,
                rings(),
                tracks,
                List.copyOf(releases.values()),
                feedback,
                pictures);
    }

    /** This estate with these holders as the file's; with none where the ledger stands elsewhere. */
    public Estate withHolders(Map<String, List<Plan.Holder>> listed) {
        if (holders.equals(listed)) return this;
        return new Estate(
                organisation,
                units,
                accounts,
                groups,
                workspaces,
                hostings,
                catalogue,
                policies,
                policies.stream().map(Policy::id).toList(),
                plans,
                listed,
                rings(),
                tracks,
                List.copyOf(releases.values()),
                feedback,
                pictures);
    }

    public Organisation organisation() {
        return organisation;
    }

    /** Units by id. */
    public List<Unit> units() {
        return units;
    }

    /** Accounts by id, inactive ones too. */
    public List<Account> accounts() {
        return accounts;
    }

    public List<Group> groups() {
        return groups;
    }

    public List<Workspace> workspaces() {
        return workspaces;
    }

    /** Hostings by id. */
    public List<Hosting> hostings() {
        return hostings;
    }

    /** The hosting of this id; a binary search. */
    public Optional<Hosting> hosting(String id) {
        return find(hostings, Hosting::id, id);
    }

    /** What a workspace runs on: a shared hosting, or one of its own, which has its id and name (resolution.md, section 1). */
    public Hosting hostingOf(Workspace workspace) {
        return workspace
                .hosting()
                .flatMap(this::hosting)
                .orElseGet(() -> new Hosting(
                        workspace.id(),
                        workspace.name(),
                        workspace.size().orElse(""),
                        workspace.trial(),
                        true,
                        List.of()));
    }

    public Catalogue catalogue() {
        return catalogue;
    }

    /** All policies in the order of the ranking, strongest first; those it leaves out follow by id. */
    public List<Policy> policies() {
        return policies;
    }

    /** Where the policy stands among {@link #policies()}, 0 the strongest. */
    public int rankOf(String policy) {
        return Objects.requireNonNull(rank.get(policy));
    }

    /** Licence plans by id. */
    public List<Plan> plans() {
        return plans;
    }

    /** The licence plan of this id. */
    public Optional<Plan> plan(String id) {
        return find(plans, Plan::id, id);
    }

    /** By plan who holds its seats, as the file lists them; see {@link #withHolders}. */
    public Map<String, List<Plan.Holder>> holders() {
        return holders;
    }

    /** The preview rings of the main track from the innermost to the outermost. */
    public List<Ring> rings() {
        return mainTrack.rings();
    }

    /** The further tracks. */
    public List<Track> tracks() {
        return tracks;
    }

    /** The main track and the further ones. */
    public List<Track> allTracks() {
        List<Track> all = new ArrayList<>(List.of(mainTrack));
        all.addAll(tracks);
        return all;
    }

    /** The track of this id; the main one where it is empty. */
    public Optional<Track> track(String id) {
        return allTracks().stream().filter(track -> track.id().equals(id)).findFirst();
    }

    /** The track to which a release belongs. */
    public Track trackOf(Release release) {
        if (!release.track().isEmpty())
            for (Track track : tracks) if (track.id().equals(release.track())) return track;
        return mainTrack;
    }

    /** The track to which the release of a setting belongs; the main one where it has none. */
    public Track trackWith(String setting) {
        return release(setting).map(this::trackOf).orElse(mainTrack);
    }

    /** The track that has the ring of this id. */
    public Optional<Track> trackOfRing(String id) {
        return allTracks().stream()
                .filter(track ->
                        track.rings().stream().anyMatch(ring -> ring.id().equals(id)))
                .findFirst();
    }

    /** The ring of this id, of whatever track. */
    public Optional<Ring> ring(String id) {
        return allTracks().stream()
                .flatMap(track -> track.rings().stream())
                .filter(ring -> ring.id().equals(id))
                .findFirst();
    }

    /** Of the settings whose releases belong to a further track, its ring setting. */
    private Map<String, String> ringSettings() {
        Map<String, String> settings = new HashMap<>();
        if (!tracks.isEmpty())
            for (Release release : releases.values())
                if (!release.track().isEmpty())
                    settings.put(release.setting(), trackOf(release).setting());
        return settings;
    }

    /** The release of a setting, where it has one. */
    public Optional<Release> release(String setting) {
        return Optional.ofNullable(releases.get(setting));
    }

    /** The account of this id; a binary search. */
    public Optional<Account> account(String id) {
        return find(accounts, Account::id, id);
    }

    public Optional<Unit> unit(String id) {
        return Optional.ofNullable(unitById.get(id));
    }

    public Optional<Group> group(String id) {
        return Optional.ofNullable(groupById.get(id));
    }

    /** All releases, in no order. */
    public Collection<Release> releases() {
        return releases.values();
    }

    /** What people found of releases, by id. */
    public List<Feedback> feedback() {
        return feedback;
    }

    /** The hashes of the pictures whose contents stand beside the estate. */
    public Set<String> pictures() {
        return pictures;
    }

    /** The word of this id; a binary search. */
    public Optional<Feedback> feedback(String id) {
        return find(feedback, Feedback::id, id);
    }

    public Optional<Policy> policy(String id) {
        return Optional.ofNullable(policyById.get(id));
    }

    /** Whether there is what a target names. Costs a look-up. */
    public boolean has(Target target) {
        if (target instanceof Target.UnitTarget u) return unit(u.id()).isPresent();
        if (target instanceof Target.GroupTarget g) return group(g.id()).isPresent();
        if (target instanceof Target.AccountTarget a) return account(a.id()).isPresent();
        if (target instanceof Target.WorkspaceTarget w) return workspace(w.id()).isPresent();
        if (target instanceof Target.HostingTarget h) return hosting(h.id()).isPresent();
        return true;
    }

    public Optional<Workspace> workspace(String id) {
        return find(workspaces, Workspace::id, id);
    }
}
