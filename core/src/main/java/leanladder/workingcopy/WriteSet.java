package leanladder.workingcopy;

import java.util.Collection;
import java.util.stream.Stream;
import org.pcollections.HashTreePSet;
import org.pcollections.PSet;

/**
 * The ids of the entities that edits touch. Everything that can change as a result is found from here.
 *
 * @param policies created, removed or changed
 * @param settings on which those policies have, or had, statements
 * @param catalogue settings that changed themselves; also among {@code settings}
 * @param releases by setting; also among {@code settings}
 * @param feedback ids of feedback on releases
 * @param frame whether the catalogue changed apart from its settings
 * @param rings whether the preview rings changed
 * @param tree whether a unit was created, removed or moved
 */
public record WriteSet(
        PSet<String> policies,
        PSet<String> settings,
        PSet<String> units,
        PSet<String> accounts,
        PSet<String> groups,
        PSet<String> plans,
        PSet<String> workspaces,
        PSet<String> catalogue,
        PSet<String> releases,
        PSet<String> feedback,
        boolean frame,
        boolean rings,
        boolean tree) {
    private static final PSet<String> NONE = HashTreePSet.empty();

    /** Of no edit. */
    public static final WriteSet EMPTY =
            new WriteSet(NONE, NONE, NONE, NONE, NONE, NONE, NONE, NONE, NONE, NONE, false, false, false);

    /** Of an edit of one policy that matters to what it says on some settings. */
    public static WriteSet ofPolicy(String policy, Collection<String> settings) {
        PSet<String> said = HashTreePSet.from(settings);
        return new WriteSet(one(policy), said, NONE, NONE, NONE, NONE, NONE, NONE, NONE, NONE, false, false, false);
    }

    /** Of an edit of one unit. */
    public static WriteSet ofUnit(String unit, boolean tree) {
        return new WriteSet(NONE, NONE, one(unit), NONE, NONE, NONE, NONE, NONE, NONE, NONE, false, false, tree);
    }

    /** Of an edit of one account. */
    public static WriteSet ofAccount(String account) {
        return new WriteSet(NONE, NONE, NONE, one(account), NONE, NONE, NONE, NONE, NONE, NONE, false, false, false);
    }

    /** Of an edit of one group. */
    public static WriteSet ofGroup(String group) {
        return new WriteSet(NONE, NONE, NONE, NONE, one(group), NONE, NONE, NONE, NONE, NONE, false, false, false);
    }

    /** Of an edit of one licence plan. */
    public static WriteSet ofPlan(String plan) {
        return new WriteSet(NONE, NONE, NONE, NONE, NONE, one(plan), NONE, NONE, NONE, NONE, false, false, false);
    }

    /** Of an edit of one workspace. */
    public static WriteSet ofWorkspace(String workspace) {
        return new WriteSet(NONE, NONE, NONE, NONE, NONE, NONE, one(workspace), NONE, NONE, NONE, false, false, false);
    }

    /** Of an edit of one setting of the catalogue. */
    public static WriteSet ofSetting(String setting) {
        PSet<String> one = one(setting);
        return new WriteSet(NONE, one, NONE, NONE, NONE, NONE, NONE, one, NONE, NONE, false, false, false);
    }

    /** Of an edit of the release of one setting. */
    public static WriteSet ofRelease(String setting) {
        PSet<String> one = one(setting);
        return new WriteSet(NONE, one, NONE, NONE, NONE, NONE, NONE, NONE, one, NONE, false, false, false);
    }

    /** Of an edit of what somebody found of a release. */
    public static WriteSet ofFeedback(String id) {
        return new WriteSet(NONE, NONE, NONE, NONE, NONE, NONE, NONE, NONE, NONE, one(id), false, false, false);
    }

    /** Of an edit of the rings, which matters to these releases. */
    public static WriteSet ofRings(Collection<String> releases) {
        PSet<String> all = HashTreePSet.from(releases);
        return new WriteSet(NONE, all, NONE, NONE, NONE, NONE, NONE, NONE, all, NONE, false, true, false);
    }

    /**
     * Of an edit of the catalogue apart from its settings.
     *
     * @param settings whose outcomes it can change
     */
    public static WriteSet ofFrame(Collection<String> settings) {
        PSet<String> all = HashTreePSet.from(settings);
        return new WriteSet(NONE, all, NONE, NONE, NONE, NONE, NONE, NONE, NONE, NONE, true, false, false);
    }

    private static PSet<String> one(String id) {
        return HashTreePSet.singleton(id);
    }

    /** Of these edits and others. Linear in the others. */
    public WriteSet and(WriteSet other) {
        if (this == EMPTY) return other;
        if (other == EMPTY) return this;
        return new WriteSet(
                policies.plusAll(other.policies),
                settings.plusAll(other.settings),
                units.plusAll(other.units),
                accounts.plusAll(other.accounts),
                groups.plusAll(other.groups),
                plans.plusAll(other.plans),
                workspaces.plusAll(other.workspaces),
                catalogue.plusAll(other.catalogue),
                releases.plusAll(other.releases),
                feedback.plusAll(other.feedback),
                frame || other.frame,
                rings || other.rings,
                tree || other.tree);
    }

    /** Whether units, accounts or groups are touched. */
    public boolean touchesDirectory() {
        return !units.isEmpty() || !accounts.isEmpty() || !groups.isEmpty();
    }

    /** Whether nothing but units, accounts and groups is touched. */
    public boolean touchesDirectoryAlone() {
        return policies.isEmpty()
                && plans.isEmpty()
                && workspaces.isEmpty()
                && catalogue.isEmpty()
                && releases.isEmpty()
                && feedback.isEmpty()
                && !frame
                && !rings;
    }

    /** Whether anything but policies is touched. */
    public boolean touchesParts() {
        return touchesDirectory()
                || frame
                || rings
                || !plans.isEmpty()
                || !workspaces.isEmpty()
                || !catalogue.isEmpty()
                || !releases.isEmpty()
                || !feedback.isEmpty();
    }

    /** Whether nothing is touched. */
    public boolean isEmpty() {
        return policies.isEmpty() && !touchesParts();
    }

    /** How many parts are touched. */
    public int size() {
        return (rings ? 1 : 0)
                + (frame ? 1 : 0)
                + Stream.of(policies, units, accounts, groups, plans, workspaces, catalogue, releases, feedback)
                        .mapToInt(PSet::size)
                        .sum();
    }
}
