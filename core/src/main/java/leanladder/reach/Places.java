package leanladder.reach;

import java.util.Optional;
import leanladder.estate.Assignment;
import leanladder.estate.Estate;
import leanladder.estate.Target;

/**
 * Where a question is asked as if working: a workspace, and the hosting on which it runs (resolution.md, section 3).
 *
 * @param workspace empty where the question names none, or the setting is not open to workspaces
 * @param hosting empty where the workspace has hosting of its own
 */
public record Places(Optional<Target> workspace, Optional<Target> hosting) {
    /** Nowhere in particular. */
    public static final Places NONE = new Places(Optional.empty(), Optional.empty());

    /** Those of a workspace of an estate; nowhere where there is no such workspace. */
    public static Places of(Estate estate, Optional<String> workspace) {
        return workspace
                .flatMap(estate::workspace)
                .map(w -> new Places(
                        Optional.of(new Target.WorkspaceTarget(w.id())),
                        w.hosting().map(Target.HostingTarget::new)))
                .orElse(NONE);
    }

    /** Whether no place fits. */
    public boolean isNone() {
        return workspace.isEmpty();
    }

    /** Whether an include is limited to one of the two. */
    boolean fits(Assignment a, Rung rung) {
        Optional<Target> here = rung.equals(Rung.WORKSPACE) ? workspace : hosting;
        return here.isPresent() && a.place().equals(here);
    }
}
