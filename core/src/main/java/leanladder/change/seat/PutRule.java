package leanladder.change.seat;

import com.fasterxml.jackson.databind.node.ObjectNode;
import java.util.List;
import java.util.Optional;
import leanladder.change.overlay.EditKind;
import leanladder.change.overlay.Overlay;
import leanladder.document.Place;
import leanladder.estate.Plan;
import leanladder.tell.Wording;

/** Adds a rule to a plan, above another or as the last. */
public final class PutRule extends PlanEdit {
    public static final EditKind KIND = new Kind("put-rule", "rules") {
        @Override
        public Optional<PutRule> read(Place place, Overlay on) {
            Optional<Plan> plan = known(place, on);
            Optional<Place> written = place.required("rule");
            if (plan.isEmpty() || written.isEmpty()) return Optional.empty();
            Optional<Plan.Rule> rule = Rules.read(written.get(), plan.get(), on);
            List<ObjectNode> rules = rules(plan.get());
            Optional<Integer> at = Rules.above(place, plan.get(), on);
            if (rule.isEmpty() || at.isEmpty()) return Optional.empty();
            if (plan.get().rules().contains(rule.get())) {
                written.get().defect("is a rule of the plan already");
                return Optional.empty();
            }
            rules.add(at.get(), (ObjectNode) written.get().node());
            return Optional.of(new PutRule((ObjectNode) place.node(), plan.get().id(), withRules(rules), rule.get()));
        }

        @Override
        public String schema() {
            return schema(
                    "adds a rule to a plan; without above, or with null, as the last",
                    "\"plan\",\"rule\"",
                    PLAN + ",\"rule\":" + Rules.SCHEMA + ",\"above\":" + Rules.NEIGHBOUR_SCHEMA);
        }
    };

    private final Plan.Rule rule;

    private PutRule(ObjectNode sent, String plan, ObjectNode members, Plan.Rule rule) {
        super(KIND, sent, plan, members);
        this.rule = rule;
    }

    @Override
    public String words(Overlay before, Wording wording) {
        return name(before) + " " + Rules.words(rule, before, wording);
    }

    /** Rules as edits write them. */
    static final class Rules {
        static final String SCHEMA = "{\"type\":\"object\",\"properties\":{\"include\":{\"type\":\"string\"},"
                + "\"except\":{\"type\":\"string\"},\"from\":{\"type\":\"string\",\"format\":\"date-time\"},"
                + "\"until\":{\"type\":\"string\",\"format\":\"date-time\"},"
                + "\"off\":{\"type\":\"array\",\"items\":{\"type\":\"string\"}}}}";
        static final String NEIGHBOUR_SCHEMA = "{\"anyOf\":[{\"type\":\"null\"}," + SCHEMA + "]}";

        private Rules() {}

        /** A rule; what does not fit is reported. */
        static Optional<Plan.Rule> read(Place place, Plan plan, Overlay on) {
            int before = place.defects().size();
            Optional<Plan.Rule> rule = leanladder.estate.read.Parts.rule(place, plan, on.reader());
            return place.defects().size() > before ? Optional.empty() : rule;
        }

        /** The place of a rule among those of a plan; a defect where it is none of them. */
        static Optional<Integer> known(Place place, Plan plan, Overlay on) {
            Optional<Plan.Rule> rule = read(place, plan, on);
            Optional<Integer> at = rule.map(plan.rules()::indexOf).filter(i -> i >= 0);
            if (rule.isPresent() && at.isEmpty()) place.defect("is no rule of " + plan.name() + " (any more)");
            return at;
        }

        /** The place of the rule that the member {@code above} names; after all rules where it names none. */
        static Optional<Integer> above(Place edit, Plan plan, Overlay on) {
            Optional<Place> above = edit.member("above").filter(p -> !p.node().isNull());
            return above.isEmpty() ? Optional.of(plan.rules().size()) : known(above.get(), plan, on);
        }

        static String words(Plan.Rule rule, Overlay on, Wording wording) {
            var window = rule.assignment().window();
            return (rule.assignment().include() ? "includes " : "excepts ")
                    + on.name(rule.assignment().target())
                    + window.from().map(f -> " from " + wording.moment(f)).orElse("")
                    + window.until().map(u -> " until " + wording.moment(u)).orElse("")
                    + (rule.off().isEmpty()
                            ? ""
                            : " without "
                                    + rule.off().stream()
                                            .map(on::component)
                                            .collect(java.util.stream.Collectors.joining(" and ")));
        }
    }
}
