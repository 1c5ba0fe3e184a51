package leanladder.edit.seat;

import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.List;
import java.util.Optional;
import leanladder.edit.EditKind;
import leanladder.estate.Plan;
import leanladder.json.JsonCursor;
import leanladder.workingcopy.Overlay;

/** Adds a rule to a plan, above another or as the last. */
public final class PutRule extends PlanEdit {
    public static final EditKind KIND = new PlanEditKind("put-rule", "rules") {
        @Override
        public Optional<PutRule> read(JsonCursor jsonCursor, Overlay on) {
            Optional<Plan> plan = known(jsonCursor, on);
            Optional<JsonCursor> written = jsonCursor.required("rule");
            if (plan.isEmpty() || written.isEmpty()) return Optional.empty();
            Optional<Plan.Rule> rule = PlanRuleParser.read(written.get(), plan.get(), on);
            List<ObjectNode> rules = rules(plan.get());
            Optional<Integer> at = PlanRuleParser.above(jsonCursor, plan.get(), on);
            if (rule.isEmpty() || at.isEmpty()) return Optional.empty();
            if (plan.get().rules().contains(rule.get())) {
                written.get().defect("is a rule of the plan already");
                return Optional.empty();
            }
            rules.add(at.get(), (ObjectNode) written.get().node());
            return Optional.of(
                    new PutRule((ObjectNode) jsonCursor.node(), plan.get().id(), withRules(rules), rule.get()));
        }

        @Override
        public String schema() {
            return schema(
                    "adds a rule to a plan; without above, or with null, as the last",
                    "\"plan\",\"rule\"",
                    PLAN + ",\"rule\":" + PlanRuleParser.SCHEMA + ",\"above\":" + PlanRuleParser.NEIGHBOUR_SCHEMA);
        }
    };

    private final Plan.Rule rule;

    private PutRule(ObjectNode sent, String plan, ObjectNode members, Plan.Rule rule) {
        super(KIND, sent, plan, members);
        this.rule = rule;
    }

    /** Rules as edits write them. */
    static final class PlanRuleParser {
        static final String SCHEMA = "{\"type\":\"object\",\"properties\":{\"include\":{\"type\":\"string\"},"
                + "\"except\":{\"type\":\"string\"},\"from\":{\"type\":\"string\",\"format\":\"date-time\"},"
                + "\"until\":{\"type\":\"string\",\"format\":\"date-time\"},"
                + "\"off\":{\"type\":\"array\",\"items\":{\"type\":\"string\"}}}}";
        static final String NEIGHBOUR_SCHEMA = "{\"anyOf\":[{\"type\":\"null\"}," + SCHEMA + "]}";

        private PlanRuleParser() {}

        /** A rule; what does not fit is reported. */
        static Optional<Plan.Rule> read(JsonCursor jsonCursor, Plan plan, Overlay on) {
            int before = jsonCursor.defects().size();
            Optional<Plan.Rule> rule = leanladder.estate.read.EntityParsers.rule(jsonCursor, plan, on.reader());
            return jsonCursor.defects().size() > before ? Optional.empty() : rule;
        }

        /** The place of a rule among those of a plan; a defect where it is none of them. */
        static Optional<Integer> known(JsonCursor jsonCursor, Plan plan, Overlay on) {
            Optional<Plan.Rule> rule = read(jsonCursor, plan, on);
            Optional<Integer> at = rule.map(plan.rules()::indexOf).filter(i -> i >= 0);
            if (rule.isPresent() && at.isEmpty()) jsonCursor.defect("is no rule of " + plan.name() + " (any more)");
            return at;
        }

        /** The place of the rule that the member {@code above} names; after all rules where it names none. */
        static Optional<Integer> above(JsonCursor edit, Plan plan, Overlay on) {
            Optional<JsonCursor> above =
                    edit.member("above").filter(p -> !p.node().isNull());
            return above.isEmpty() ? Optional.of(plan.rules().size()) : known(above.get(), plan, on);
        }
    }

    /** The rule that is added. */
    public Plan.Rule rule() {
        return rule;
    }
}
