package leanladder.estate;

import java.util.Optional;

/**
 * Says whom a policy or a licence rule is for, or is not for, while its window holds.
 *
 * @param in the place to which an include is limited, a workspace or a hosting; empty where it is not, and where the target is a place
 */
public record Assignment(boolean include, Target target, Optional<Target> in, TimeWindow window) {
    private static final Target EVERYONE = new Target.OrganisationTarget();

    /** One that is not limited to a place, unless its target is one. */
    public Assignment(boolean include, Target target, TimeWindow window) {
        this(include, target, Optional.empty(), window);
    }

    /** The place in which alone it holds: where it is limited to one, and where its target is one (resolution.md, section 3). */
    public Optional<Target> place() {
        return target.isPlace() ? Optional.of(target) : in;
    }

    /** Whom it names there, or everywhere: the whole organisation where its target is a place. */
    public Target whom() {
        return target.isPlace() ? EVERYONE : target;
    }

    /** Whether it names a target, as its own or as its place. */
    public boolean names(Target named) {
        return target.equals(named) || in.filter(named::equals).isPresent();
    }
}
