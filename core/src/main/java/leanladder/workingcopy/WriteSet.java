package leanladder.workingcopy;

import java.util.Collection;
import java.util.Set;
import org.pcollections.HashTreePMap;
import org.pcollections.HashTreePSet;
import org.pcollections.PMap;
import org.pcollections.PSet;

/**
 * The ids of the entities that edits touch. Everything that can change as a result is found from here.
 *
 * @param ids of what is touched, by what it is
 * @param frame whether the catalogue changed apart from its settings
 * @param rings whether the preview rings or tracks changed
 * @param tree whether a unit was created, removed or moved
 */
public record WriteSet(PMap<Kind, PSet<String>> ids, boolean frame, boolean rings, boolean tree) {
    /** What can be touched. */
    public enum Kind {
        POLICY,
        /** On which touched policies have, or had, statements; or that changed themselves, or whose release did. */
        AFFECTED_SETTING,
        UNIT,
        ACCOUNT,
        GROUP,
        PLAN,
        WORKSPACE,
        HOSTING,
        /** That changed itself. */
        SETTING,
        /** By setting. */
        RELEASE,
        FEEDBACK
    }

    private static final PSet<String> NONE = HashTreePSet.empty();

    private static final Set<Kind> DIRECTORY = Set.of(Kind.UNIT, Kind.ACCOUNT, Kind.GROUP);

    /** Of no edit. */
    public static final WriteSet EMPTY = new WriteSet(HashTreePMap.empty(), false, false, false);

    private WriteSet with(Kind kind, Collection<String> more) {
        if (more.isEmpty()) return this;
        return new WriteSet(ids.plus(kind, of(kind).plusAll(more)), frame, rings, tree);
    }

    private WriteSet with(Kind kind, String one) {
        return new WriteSet(ids.plus(kind, of(kind).plus(one)), frame, rings, tree);
    }

    private PSet<String> of(Kind kind) {
        return ids.getOrDefault(kind, NONE);
    }

    /** Of an edit of one policy that matters to what it says on some settings. */
    public static WriteSet ofPolicy(String policy, Collection<String> settings) {
        return EMPTY.with(Kind.POLICY, policy).with(Kind.AFFECTED_SETTING, settings);
    }

    /** Of an edit of one unit. */
    public static WriteSet ofUnit(String unit, boolean tree) {
        return new WriteSet(HashTreePMap.singleton(Kind.UNIT, HashTreePSet.singleton(unit)), false, false, tree);
    }

    /** Of an edit of one account. */
    public static WriteSet ofAccount(String account) {
        return EMPTY.with(Kind.ACCOUNT, account);
    }

    /** Of an edit of one group. */
    public static WriteSet ofGroup(String group) {
        return EMPTY.with(Kind.GROUP, group);
    }

    /** Of an edit of one licence plan. */
    public static WriteSet ofPlan(String plan) {
        return EMPTY.with(Kind.PLAN, plan);
    }

    /** Of an edit of one workspace. */
    public static WriteSet ofWorkspace(String workspace) {
        return EMPTY.with(Kind.WORKSPACE, workspace);
    }

    /** Of an edit of one hosting. */
    public static WriteSet ofHosting(String hosting) {
        return EMPTY.with(Kind.HOSTING, hosting);
    }

    /** Of an edit of one setting of the catalogue. */
    public static WriteSet ofSetting(String setting) {
        return EMPTY.with(Kind.SETTING, setting).with(Kind.AFFECTED_SETTING, setting);
    }

    /** Of an edit of the release of one setting. */
    public static WriteSet ofRelease(String setting) {
        return EMPTY.with(Kind.RELEASE, setting).with(Kind.AFFECTED_SETTING, setting);
    }

    /** Of an edit of what somebody found of a release. */
    public static WriteSet ofFeedback(String id) {
        return EMPTY.with(Kind.FEEDBACK, id);
    }

    /** Of an edit of the rings or tracks, which matters to these releases. */
    public static WriteSet ofRings(Collection<String> releases) {
        return new WriteSet(HashTreePMap.empty(), false, true, false)
                .with(Kind.RELEASE, releases)
                .with(Kind.AFFECTED_SETTING, releases);
    }

    /**
     * Of an edit of the catalogue apart from its settings.
     *
     * @param settings whose outcomes it can change
     */
    public static WriteSet ofFrame(Collection<String> settings) {
        return new WriteSet(HashTreePMap.empty(), true, false, false).with(Kind.AFFECTED_SETTING, settings);
    }

    /** Of these edits and others. Linear in the others. */
    public WriteSet and(WriteSet other) {
        if (this == EMPTY) return other;
        if (other == EMPTY) return this;
        PMap<Kind, PSet<String>> all = ids;
        for (var more : other.ids.entrySet())
            all = all.plus(more.getKey(), of(more.getKey()).plusAll(more.getValue()));
        return new WriteSet(all, frame || other.frame, rings || other.rings, tree || other.tree);
    }

    /** Policies that were created, removed or changed. */
    public PSet<String> policies() {
        return of(Kind.POLICY);
    }

    /** Settings on which touched policies have, or had, statements; that changed themselves, or whose release did. */
    public PSet<String> settings() {
        return of(Kind.AFFECTED_SETTING);
    }

    public PSet<String> units() {
        return of(Kind.UNIT);
    }

    public PSet<String> accounts() {
        return of(Kind.ACCOUNT);
    }

    public PSet<String> groups() {
        return of(Kind.GROUP);
    }

    public PSet<String> plans() {
        return of(Kind.PLAN);
    }

    public PSet<String> workspaces() {
        return of(Kind.WORKSPACE);
    }

    public PSet<String> hostings() {
        return of(Kind.HOSTING);
    }

    /** Settings that changed themselves. */
    public PSet<String> catalogue() {
        return of(Kind.SETTING);
    }

    /** Releases, by setting. */
    public PSet<String> releases() {
        return of(Kind.RELEASE);
    }

    /** Feedback on releases. */
    public PSet<String> feedback() {
        return of(Kind.FEEDBACK);
    }

    /** Whether units, accounts or groups are touched. */
    public boolean touchesDirectory() {
        return ids.keySet().stream().anyMatch(DIRECTORY::contains);
    }

    /** Whether nothing but units, accounts and groups is touched. */
    public boolean touchesDirectoryAlone() {
        return ids.keySet().stream().allMatch(DIRECTORY::contains) && !frame && !rings;
    }

    /** Whether anything but policies is touched. */
    public boolean touchesParts() {
        return frame
                || rings
                || ids.keySet().stream().anyMatch(kind -> kind != Kind.POLICY && kind != Kind.AFFECTED_SETTING);
    }

    /** Whether nothing is touched. */
    public boolean isEmpty() {
        return policies().isEmpty() && !touchesParts();
    }

    /** How many parts are touched. */
    public int size() {
        return (rings ? 1 : 0)
                + (frame ? 1 : 0)
                + ids.entrySet().stream()
                        .filter(e -> e.getKey() != Kind.AFFECTED_SETTING)
                        .mapToInt(e -> e.getValue().size())
                        .sum();
    }
}
