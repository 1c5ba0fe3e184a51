package leanladder.estate;

import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.List;
import java.util.stream.Stream;

/**
 * A named bundle of statements and the assignments that say whom it is for.
 *
 * @param live a policy that is not live is paused and reaches nobody
 * @param source the policy as the estate file writes it
 */
public record Policy(
        String id,
        String name,
        boolean live,
        List<Statement> statements,
        List<Assignment> assignments,
        ObjectNode source) {

    /** What this policy says on a setting: at most one set and one cap. */
    public Stream<Statement> on(String setting) {
        return statements.stream().filter(s -> s.setting().equals(setting));
    }
}
