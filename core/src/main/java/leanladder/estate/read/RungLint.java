package leanladder.estate.read;

import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.function.Function;
import java.util.stream.Collectors;
import java.util.stream.StreamSupport;
import leanladder.catalogue.Setting;
import leanladder.estate.Assignment;
import leanladder.estate.Policy;
import leanladder.estate.Target;
import leanladder.json.JsonCursor;

/** Warns of statements on a rung where the catalogue says that they make no sense. */
final class RungLint {
    private RungLint() {}

    /** Reports one warning for each statement that stands on a rung which its setting's {@code rungs} leaves out. */
    static void warn(
            Policy policy, JsonCursor jsonCursor, Function<String, Optional<Setting>> settings, References known) {
        for (JsonCursor statement : jsonCursor.items("statements")) {
            Optional<Setting> setting =
                    settings.apply(statement.node().path("setting").asText());
            boolean onlyInPlaces = policy.assignments().stream().anyMatch(Assignment::include)
                    && policy.assignments().stream()
                            .allMatch(a -> !a.include() || a.place().isPresent());
            if (setting.isPresent() && onlyInPlaces && !setting.get().openToWorkspaces())
                statement.warn("can have no effect: the policy speaks in workspaces and on hostings alone, and \""
                        + setting.get().key() + "\" is not open to workspaces");
            if (setting.isEmpty() || !setting.get().source().path("rungs").isArray()) continue;
            List<String> named = StreamSupport.stream(
                            setting.get().source().get("rungs").spliterator(), false)
                    .map(n -> n.asText())
                    .toList();
            Set<String> others = policy.assignments().stream()
                    .filter(Assignment::include)
                    .filter(a -> a.place().isEmpty() || setting.get().openToWorkspaces())
                    .map(a -> rung(a.place().orElse(a.target()), known))
                    .filter(r -> !named.contains(r))
                    .collect(Collectors.toCollection(TreeSet::new));
            if (!others.isEmpty())
                statement.warn("stands on the rung " + String.join(" and ", others) + ", but \""
                        + setting.get().key() + "\" makes sense on " + String.join(", ", named));
        }
    }

    private static String rung(Target target, References known) {
        if (target instanceof Target.GroupTarget) return "group";
        if (target instanceof Target.AccountTarget) return "person";
        if (target instanceof Target.WorkspaceTarget) return "workspace";
        if (target instanceof Target.HostingTarget) return "hosting";
        return target instanceof Target.UnitTarget unit && !known.isRootUnit(unit.id()) ? "unit" : "organisation";
    }
}
