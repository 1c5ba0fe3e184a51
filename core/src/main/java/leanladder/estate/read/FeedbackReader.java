package leanladder.estate.read;

import com.fasterxml.jackson.databind.node.ObjectNode;
import java.time.Instant;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Function;
import java.util.stream.Collectors;
import leanladder.document.Place;
import leanladder.estate.Feedback;

/** Reads what people found of releases. Whether the release and the account still exist is not looked at. */
final class FeedbackReader {
    private static final Map<String, Feedback.Verdict> VERDICTS = Arrays.stream(Feedback.Verdict.values())
            .collect(Collectors.toMap(Feedback.Verdict::word, Function.identity()));
    private static final List<String> WORDS =
            Arrays.stream(Feedback.Verdict.values()).map(Feedback.Verdict::word).toList();

    private FeedbackReader() {}

    static Optional<Feedback> feedback(Place place) {
        if (!place.isObject()) return Optional.empty();
        int before = place.defects().size();
        Optional<String> id = place.required("id").flatMap(Place::id);
        Optional<String> release = place.required("release").flatMap(Place::key);
        Optional<String> account = place.required("account").flatMap(Place::id);
        Optional<Instant> at = place.required("at").flatMap(Place::instant);
        Optional<Place> said = place.required("verdict");
        Optional<String> verdict = said.flatMap(Place::text);
        verdict.filter(v -> !VERDICTS.containsKey(v))
                .ifPresent(v -> said.orElseThrow().defect("must be one of " + String.join(", ", WORDS)));
        Optional<String> text = place.member("text").flatMap(Place::text);
        place.member("device").ifPresent(Place::text);
        Optional<Place> dealt = place.member("dealt").filter(Place::isObject);
        Optional<Instant> since = dealt.flatMap(d -> d.required("at")).flatMap(Place::instant);
        dealt.flatMap(d -> d.member("note")).ifPresent(Place::text);
        if (place.defects().size() > before) return Optional.empty();
        return Optional.of(new Feedback(
                id.orElseThrow(),
                release.orElseThrow(),
                account.orElseThrow(),
                at.orElseThrow(),
                VERDICTS.get(verdict.orElseThrow()),
                text.orElse(""),
                since,
                (ObjectNode) place.node()));
    }
}
