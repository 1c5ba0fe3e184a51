package leanladder.edit.policy;

import java.util.Set;
import leanladder.edit.ConflictPaths;
import leanladder.edit.EditKind;
import leanladder.edit.Member;
import leanladder.json.JsonCursor;
import leanladder.workingcopy.Duty;
import leanladder.workingcopy.EntityType;
import leanladder.workingcopy.Overlay;

/**
 * Removes the statement that a policy has on a setting in one way.
 *
 * @param setting not looked up: the statement may be about a setting that is gone
 * @param says {@code set} or {@code cap}
 */
public record RemoveStatement(
        @Member(names = "policy") String policy,
        String setting,
        @Member(words = {SET, CAP}) String says) implements PolicyEdit {
    private static final String SET = "set";
    private static final String CAP = "cap";

    public static final EditKind KIND = EditKind.of(
            "remove-statement",
            Duty.POLICIES,
            RemoveStatement.class,
            "is silent on a setting, for one way of speaking");

    @Override
    public RemoveStatement apply(Overlay on, JsonCursor at) {
        if (on.policy(policy).statement(setting, isCap()).isPresent()) on.removeStatement(policy, setting, isCap());
        else
            at.member(EntityType.SETTING.noun())
                    .orElseThrow()
                    .defect("names \"" + setting + "\", on which the policy does not speak so (any more)");
        return this;
    }

    /** Whether the statement is a cap. */
    public boolean isCap() {
        return says.equals(CAP);
    }

    @Override
    public Set<String> paths() {
        return Set.of(path(this, isCap(), setting));
    }

    /** The path of the statement that a policy has on a setting in one way. */
    static String path(PolicyEdit edit, boolean cap, String setting) {
        return edit.path() + "/statements/" + ConflictPaths.of((cap ? CAP : SET) + " " + setting);
    }

    @Override
    public String policyId() {
        return policy;
    }
}
