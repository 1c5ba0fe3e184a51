package leanladder.estate.read;

import com.fasterxml.jackson.databind.node.ObjectNode;
import java.time.Instant;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.function.Function;
import java.util.stream.Collectors;
import leanladder.estate.Feedback;
import leanladder.json.JsonCursor;

/** Reads what people found of releases. Whether the release and the account still exist is not looked at. */
final class FeedbackReader {
    private static final Map<String, Feedback.Verdict> VERDICTS = Arrays.stream(Feedback.Verdict.values())
            .collect(Collectors.toMap(Feedback.Verdict::word, Function.identity()));
    private static final List<String> WORDS =
            Arrays.stream(Feedback.Verdict.values()).map(Feedback.Verdict::word).toList();

    private FeedbackReader() {}

    static Optional<Feedback> feedback(JsonCursor jsonCursor) {
        if (!jsonCursor.isObject()) return Optional.empty();
        int before = jsonCursor.defects().size();
        Optional<String> id = jsonCursor.required("id").flatMap(JsonCursor::id);
        Optional<String> release = jsonCursor.required("release").flatMap(JsonCursor::key);
        Optional<String> account = jsonCursor.required("account").flatMap(JsonCursor::id);
        Optional<Instant> at = jsonCursor.required("at").flatMap(JsonCursor::instant);
        Optional<JsonCursor> said = jsonCursor.required("verdict");
        Optional<String> verdict = said.flatMap(JsonCursor::text);
        verdict.filter(v -> !VERDICTS.containsKey(v))
                .ifPresent(v -> said.orElseThrow().defect("must be one of " + String.join(", ", WORDS)));
        Optional<String> text = jsonCursor.member("text").flatMap(JsonCursor::text);
        jsonCursor.member("device").ifPresent(JsonCursor::text);
        Optional<JsonCursor> dealt = jsonCursor.member("dealt").filter(JsonCursor::isObject);
        Optional<Instant> since = dealt.flatMap(d -> d.required("at")).flatMap(JsonCursor::instant);
        dealt.flatMap(d -> d.member("note")).ifPresent(JsonCursor::text);
        if (jsonCursor.defects().size() > before) return Optional.empty();
        return Optional.of(new Feedback(
                id.orElseThrow(),
                release.orElseThrow(),
                account.orElseThrow(),
                at.orElseThrow(),
                Objects.requireNonNull(VERDICTS.get(verdict.orElseThrow())),
                text.orElse(""),
                since,
                (ObjectNode) jsonCursor.node()));
    }
}
