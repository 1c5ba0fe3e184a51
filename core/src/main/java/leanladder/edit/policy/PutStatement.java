package leanladder.edit.policy;

import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.Set;
import leanladder.edit.EditKind;
import leanladder.edit.Member;
import leanladder.json.JsonCursor;
import leanladder.workingcopy.Duty;
import leanladder.workingcopy.Overlay;

/** Puts a statement into a policy, in place of the one that it had on the setting in the same way (set or cap). */
public record PutStatement(
        @Member(names = "policy") String policy,
        @Member(schema = "Statement") ObjectNode statement) implements PolicyEdit {
    public static final EditKind KIND = EditKind.of(
            "put-statement",
            Duty.POLICIES,
            PutStatement.class,
            "says this in place of what was set, or capped, before");

    @Override
    public PutStatement apply(Overlay on, JsonCursor at) {
        on.reader()
                .statement(at.member("statement").orElseThrow())
                .ifPresent(read -> on.putStatement(policy, read, statement));
        return this;
    }

    @Override
    public Set<String> paths() {
        return Set.of(RemoveStatement.path(
                this, statement.has("cap"), statement.path("setting").asText()));
    }

    @Override
    public String policyId() {
        return policy;
    }
}
