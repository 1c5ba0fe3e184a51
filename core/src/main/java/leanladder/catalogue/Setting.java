package leanladder.catalogue;

import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;

/**
 * One thing that can be set.
 *
 * @param strictness present when the setting is ordered
 * @param consequences for each of the needs, what is in force while it is not met: the strictest of these where there are several
 * @param fallback the consequence of a need that names no other; present whenever there are needs
 * @param source the setting as the estate file writes it, with the members that only screens use
 */
public record Setting(
        String key,
        Optional<String> app,
        String title,
        ValueType type,
        Optional<Strictness> strictness,
        Default builtIn,
        Merge merge,
        boolean openToWorkspaces,
        List<Need> needs,
        List<Value> consequences,
        Optional<Value> fallback,
        ObjectNode source) {

    /** The key of the setting that says in which preview ring of the main track an account stands (resolution.md, section 7). */
    public static final String RING = "preview.ring";

    /** Whether nothing that decides outcomes differs from another setting of this key, openness to workspaces aside. */
    public boolean decidesLike(Setting other) {
        return type.equals(other.type)
                && source.path("ordered").equals(other.source.path("ordered"))
                && source.path("strict").equals(other.source.path("strict"))
                && builtIn.equals(other.builtIn)
                && merge == other.merge
                && needs.equals(other.needs)
                && consequences.equals(other.consequences)
                && fallback.equals(other.fallback);
    }

    /**
     * Whether a need is asked of a decided value (resolution.md, section 5): where it would make it stricter, or, where there is no order,
     * where it would make it another.
     *
     * @param need its position among the needs
     */
    public boolean asks(int need, Value decided) {
        Value consequence = consequences.get(need);
        return strictness.map(s -> s.isLooser(decided, consequence)).orElseGet(() -> !decided.equals(consequence));
    }

    /** What is in force while several needs are not met: the strictest of their consequences. @param unmet positions among the needs */
    public Value consequence(List<Integer> unmet) {
        Value strictest = consequences.get(unmet.get(0));
        for (int need : unmet)
            if (strictness.isPresent()) strictest = strictness.get().strictest(strictest, consequences.get(need));
        return strictest;
    }

    /** All needs, those inside an any-of too. */
    public Stream<Need> allNeeds() {
        return needs.stream().flatMap(Need::flatten);
    }

    /** Whether it stands on a ring of this id: by default or as its fallback, or because it needs that ring of a ring setting. */
    public boolean namesRing(String ringSetting, String id) {
        Value ring = new Value.Choice(id);
        boolean own = key.equals(ringSetting)
                && (builtIn.equals(new Default.Fixed(ring))
                        || fallback.filter(ring::equals).isPresent());
        return own
                || allNeeds()
                        .anyMatch(n -> n instanceof Need.ExactSetting exactSetting
                                && exactSetting.setting().equals(ringSetting)
                                && exactSetting.value().equals(ring));
    }

    /**
     * Keys of the settings that this one's outcome is worked out from.
     *
     * @param ringSetting which a release of this setting goes by; it is among them where there is such a need
     */
    public Stream<String> dependsOn(String ringSetting) {
        Stream<String> followed = builtIn instanceof Default.Follow follow ? Stream.of(follow.key()) : Stream.empty();
        Stream<String> needed = allNeeds().flatMap(need -> {
            if (need instanceof Need.MinimumSetting other) return Stream.of(other.setting());
            if (need instanceof Need.ExactSetting other) return Stream.of(other.setting());
            if (need instanceof Need.ReleaseNeed) return Stream.of(ringSetting);
            return Stream.empty();
        });
        return Stream.concat(followed, needed).distinct();
    }

    /** Settings of one catalogue differ in their keys; they stand in many maps. */
    @Override
    public int hashCode() {
        return key.hashCode();
    }
}
