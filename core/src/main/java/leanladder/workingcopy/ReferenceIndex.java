package leanladder.workingcopy;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.stream.Stream;
import leanladder.catalogue.Default;
import leanladder.catalogue.Setting;
import leanladder.catalogue.Value;
import leanladder.catalogue.ValueType;
import leanladder.estate.Account;
import leanladder.estate.Assignment;
import leanladder.estate.Estate;
import leanladder.estate.Plan;
import leanladder.resolve.CompiledEstate;
import leanladder.rule.GroupRule;
import org.jspecify.annotations.Nullable;

/**
 * What references the units, accounts and groups of an estate. Computed once, on first use, for everything that has targets. The members of groups and
 * the accounts of units are looked up in the directory.
 */
final class ReferenceIndex {
    private final CompiledEstate base;
    private @Nullable Map<String, List<Reference>> byTarget;

    ReferenceIndex(CompiledEstate base) {
        this.base = base;
    }

    /** What names a target, written as the estate file does. */
    synchronized List<Reference> of(String target) {
        if (byTarget == null) byTarget = gathered();
        List<Reference> uses = new ArrayList<>(byTarget.getOrDefault(target, List.of()));
        Estate estate = base.estate();
        String id = target.substring(target.indexOf(':') + 1);
        if (target.startsWith("account:")) {
            for (String group : base.directory().groupsOf(id))
                add(
                        uses,
                        Reference.Referrer.GROUP,
                        group,
                        base.directory().group(group).name());
        }
        if (target.startsWith("unit:") && estate.unit(id).isPresent())
            base.directory().directlyIn(id).forEach((int n) -> {
                Account account = base.directory().account(n);
                uses.add(new Reference(Reference.Referrer.ACCOUNT, account.id(), account.displayName()));
            });
        uses.sort(java.util.Comparator.comparing(Reference::by));
        return uses;
    }

    private static void add(List<Reference> uses, Reference.Referrer referrer, String id, String name) {
        Reference reference = new Reference(referrer, id, name);
        if (!uses.contains(reference)) uses.add(reference);
    }

    private Map<String, List<Reference>> gathered() {
        Map<String, List<Reference>> found = new HashMap<>();
        Estate estate = base.estate();
        estate.policies().forEach(p -> {
            Reference reference = new Reference(Reference.Referrer.POLICY, p.id(), p.name());
            targets(found, p.assignments(), reference);
            p.statements().forEach(s -> items(s.value()).forEach(target -> put(found, target, reference)));
        });
        for (Plan plan : estate.plans())
            targets(found, plan.assignments(), new Reference(Reference.Referrer.PLAN, plan.id(), plan.name()));
        estate.releases().forEach(release -> {
            String title =
                    estate.catalogue().setting(release.setting()).orElseThrow().title();
            release.early()
                    .forEach(e -> put(
                            found, e.to().text(), new Reference(Reference.Referrer.RELEASE, release.setting(), title)));
        });
        estate.units()
                .forEach(u -> u.parent()
                        .ifPresent(p ->
                                put(found, "unit:" + p, new Reference(Reference.Referrer.UNIT, u.id(), u.name()))));
        estate.groups().forEach(g -> {
            Reference reference = new Reference(Reference.Referrer.GROUP, g.id(), g.name());
            g.members().groups().forEach(inner -> put(found, "group:" + inner, reference));
            g.owners().forEach(owner -> put(found, "account:" + owner, reference));
            g.rule().ifPresent(rule -> named(rule).forEach(target -> put(found, target, reference)));
        });
        estate.workspaces().forEach(w -> {
            Reference reference = new Reference(Reference.Referrer.WORKSPACE, w.id(), w.name());
            w.members().texts().forEach(member -> put(found, member, reference));
            w.stewards().forEach(steward -> put(found, "account:" + steward, reference));
            w.hosting().ifPresent(hosting -> put(found, "hosting:" + hosting, reference));
        });
        estate.hostings()
                .forEach(h -> h.keepers()
                        .forEach(keeper -> put(
                                found,
                                "account:" + keeper,
                                new Reference(Reference.Referrer.HOSTING, h.id(), h.name()))));
        estate.catalogue().settings().values().stream()
                .filter(s -> s.type() instanceof ValueType.PeopleType)
                .forEach(s -> people(s)
                        .forEach(target ->
                                put(found, target, new Reference(Reference.Referrer.SETTING, s.key(), s.title()))));
        return found;
    }

    private static void targets(Map<String, List<Reference>> found, List<Assignment> assignments, Reference reference) {
        for (Assignment a : assignments) {
            put(found, a.target().text(), reference);
            a.in().ifPresent(place -> put(found, place.text(), reference));
        }
    }

    /** The targets that the rule of a group names. */
    static Stream<String> named(GroupRule rule) {
        return Stream.concat(
                rule.units().map(u -> "unit:" + u.unit()), rule.groups().map(g -> "group:" + g.group()));
    }

    /** The targets among what a setting says itself, of one whose values are people. */
    static Stream<String> people(Setting setting) {
        return Stream.concat(
                setting.builtIn() instanceof Default.Fixed fixed ? items(fixed.value()) : Stream.empty(),
                setting.fallback().stream().flatMap(ReferenceIndex::items));
    }

    private static Stream<String> items(Value value) {
        return value instanceof Value.ListValue list ? list.items().stream() : Stream.empty();
    }

    private static void put(Map<String, List<Reference>> found, String target, Reference reference) {
        List<Reference> uses = found.computeIfAbsent(target, k -> new ArrayList<>(2));
        if (uses.isEmpty() || !uses.get(uses.size() - 1).equals(reference)) uses.add(reference);
    }
}
