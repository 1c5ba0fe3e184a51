package leanladder.change.overlay;

import java.util.Collection;
import java.util.List;
import org.pcollections.HashTreePSet;
import org.pcollections.PSet;

/**
 * Which parts of an estate edits touch, by id: what could come out otherwise is looked for there and nowhere else.
 *
 * @param policies that are new, gone or not the same
 * @param settings on which those policies speak, or spoke
 * @param catalogue settings that are not the same themselves; they are among {@code settings} too
 * @param releases by the settings that they are of; these are among {@code settings} too
 * @param tree whether some unit is new, gone or below another
 */
public record Footprint(
        PSet<String> policies,
        PSet<String> settings,
        PSet<String> units,
        PSet<String> accounts,
        PSet<String> groups,
        PSet<String> plans,
        PSet<String> workspaces,
        PSet<String> catalogue,
        PSet<String> releases,
        boolean tree) {
    private static final PSet<String> NONE = HashTreePSet.empty();

    /** Of no edit. */
    public static final Footprint EMPTY = new Footprint(NONE, NONE, NONE, NONE, NONE, NONE, NONE, NONE, NONE, false);

    /** Of an edit of one policy that matters to what it says on some settings. */
    public static Footprint ofPolicy(String policy, Collection<String> settings) {
        return new Footprint(
                HashTreePSet.singleton(policy),
                HashTreePSet.from(settings),
                NONE,
                NONE,
                NONE,
                NONE,
                NONE,
                NONE,
                NONE,
                false);
    }

    /** Of an edit of one unit. */
    public static Footprint ofUnit(String unit, boolean tree) {
        return new Footprint(NONE, NONE, HashTreePSet.singleton(unit), NONE, NONE, NONE, NONE, NONE, NONE, tree);
    }

    /** Of an edit of one account. */
    public static Footprint ofAccount(String account) {
        return new Footprint(NONE, NONE, NONE, HashTreePSet.singleton(account), NONE, NONE, NONE, NONE, NONE, false);
    }

    /** Of an edit of one group. */
    public static Footprint ofGroup(String group) {
        return new Footprint(NONE, NONE, NONE, NONE, HashTreePSet.singleton(group), NONE, NONE, NONE, NONE, false);
    }

    /** Of an edit of one licence plan. */
    public static Footprint ofPlan(String plan) {
        return new Footprint(NONE, NONE, NONE, NONE, NONE, HashTreePSet.singleton(plan), NONE, NONE, NONE, false);
    }

    /** Of an edit of one workspace. */
    public static Footprint ofWorkspace(String workspace) {
        return new Footprint(NONE, NONE, NONE, NONE, NONE, NONE, HashTreePSet.singleton(workspace), NONE, NONE, false);
    }

    /** Of an edit of one setting of the catalogue. */
    public static Footprint ofSetting(String setting) {
        PSet<String> one = HashTreePSet.singleton(setting);
        return new Footprint(NONE, one, NONE, NONE, NONE, NONE, NONE, one, NONE, false);
    }

    /** Of an edit of the release of one setting. */
    public static Footprint ofRelease(String setting) {
        PSet<String> one = HashTreePSet.singleton(setting);
        return new Footprint(NONE, one, NONE, NONE, NONE, NONE, NONE, NONE, one, false);
    }

    /** Of these edits and others. Linear in the others. */
    public Footprint and(Footprint other) {
        return new Footprint(
                policies.plusAll(other.policies),
                settings.plusAll(other.settings),
                units.plusAll(other.units),
                accounts.plusAll(other.accounts),
                groups.plusAll(other.groups),
                plans.plusAll(other.plans),
                workspaces.plusAll(other.workspaces),
                catalogue.plusAll(other.catalogue),
                releases.plusAll(other.releases),
                tree || other.tree);
    }

    /** Whether units, accounts or groups are touched. */
    public boolean touchesDirectory() {
        return !units.isEmpty() || !accounts.isEmpty() || !groups.isEmpty();
    }

    /** Whether anything but policies is touched. */
    public boolean touchesParts() {
        return touchesDirectory()
                || !plans.isEmpty()
                || !workspaces.isEmpty()
                || !catalogue.isEmpty()
                || !releases.isEmpty();
    }

    /** Whether nothing is touched. */
    public boolean isEmpty() {
        return policies.isEmpty() && !touchesParts();
    }

    /** How many parts are touched. */
    public int size() {
        return List.of(policies, units, accounts, groups, plans, workspaces, catalogue, releases).stream()
                .mapToInt(PSet::size)
                .sum();
    }
}
