package leanladder.change.overlay;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import leanladder.estate.Account;
import leanladder.estate.Assignment;
import leanladder.estate.Estate;
import leanladder.estate.Plan;
import leanladder.resolve.Ground;

/**
 * What names the units, accounts and groups of an estate. Gathered once, when first asked, for all that names targets; members of
 * groups and people of units are found in the directory.
 */
final class BaseUses {
    private final Ground base;
    private Map<String, List<Use>> byTarget;

    BaseUses(Ground base) {
        this.base = base;
    }

    /** What names a target, written as the estate file does. */
    synchronized List<Use> of(String target) {
        if (byTarget == null) byTarget = gathered();
        List<Use> uses = new ArrayList<>(byTarget.getOrDefault(target, List.of()));
        Estate estate = base.estate();
        String id = target.substring(target.indexOf(':') + 1);
        if (target.startsWith("account:")) {
            for (String group : base.directory().groupsOf(id))
                add(uses, Use.By.GROUP, group, base.directory().group(group).name());
        }
        if (target.startsWith("unit:") && estate.unit(id).isPresent())
            base.directory().directlyIn(id).forEach((int n) -> {
                Account account = base.directory().account(n);
                uses.add(new Use(Use.By.ACCOUNT, account.id(), account.displayName()));
            });
        uses.sort(java.util.Comparator.comparing(Use::by));
        return uses;
    }

    private static void add(List<Use> uses, Use.By by, String id, String name) {
        Use use = new Use(by, id, name);
        if (!uses.contains(use)) uses.add(use);
    }

    private Map<String, List<Use>> gathered() {
        Map<String, List<Use>> found = new HashMap<>();
        Estate estate = base.estate();
        estate.policies().forEach(p -> targets(found, p.assignments(), new Use(Use.By.POLICY, p.id(), p.name())));
        for (Plan plan : estate.plans())
            targets(found, plan.assignments(), new Use(Use.By.PLAN, plan.id(), plan.name()));
        estate.releases().forEach(release -> {
            String title =
                    estate.catalogue().setting(release.setting()).orElseThrow().title();
            release.early().forEach(e -> put(found, e.to().text(), new Use(Use.By.RELEASE, release.setting(), title)));
        });
        estate.units()
                .forEach(u ->
                        u.parent().ifPresent(p -> put(found, "unit:" + p, new Use(Use.By.UNIT, u.id(), u.name()))));
        estate.groups().forEach(g -> {
            Use use = new Use(Use.By.GROUP, g.id(), g.name());
            g.members().groups().forEach(inner -> put(found, "group:" + inner, use));
            g.owners().forEach(owner -> put(found, "account:" + owner, use));
        });
        estate.workspaces().forEach(w -> {
            Use use = new Use(Use.By.WORKSPACE, w.id(), w.name());
            w.members().texts().forEach(member -> put(found, member, use));
            w.stewards().forEach(steward -> put(found, "account:" + steward, use));
        });
        return found;
    }

    private static void targets(Map<String, List<Use>> found, List<Assignment> assignments, Use use) {
        for (Assignment a : assignments) put(found, a.target().text(), use);
    }

    private static void put(Map<String, List<Use>> found, String target, Use use) {
        List<Use> uses = found.computeIfAbsent(target, k -> new ArrayList<>(2));
        if (uses.isEmpty() || !uses.get(uses.size() - 1).equals(use)) uses.add(use);
    }
}
