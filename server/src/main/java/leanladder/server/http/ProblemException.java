package leanladder.server.http;

import com.fasterxml.jackson.annotation.JsonAnyGetter;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import leanladder.json.Defect;

/** An answer that says what is wrong, as problem details (RFC 9457), with a JSON Pointer for each defect. */
public final class ProblemException extends RuntimeException {
    private static final long serialVersionUID = 1;
    private static final int TOLD = 1000;

    private final transient Details details;

    /** What is sent. @param more members that belong to one type of problem */
    public record Details(
            String type,
            String title,
            int status,
            String detail,
            @JsonAnyGetter Map<String, Object> more) {}

    /** A defect of what was sent. */
    public record DefectLine(String pointer, String message) {
        /** Defects as they are told. */
        public static List<DefectLine> of(List<Defect> defects) {
            return defects.stream()
                    .map(d -> new DefectLine(d.pointer(), d.message()))
                    .toList();
        }
    }

    private ProblemException(int status, String title, String detail) {
        super(detail);
        String type = "urn:lean-ladder:" + title.toLowerCase(Locale.ROOT).replace(' ', '-');
        details = new Details(type, title, status, detail, new LinkedHashMap<>());
    }

    /** Something in the question is wrong: 400. */
    public static ProblemException wrongInput(String detail) {
        return new ProblemException(400, "Wrong input", detail);
    }

    /** What is asked about is not there: 404. */
    public static ProblemException unknown(String detail) {
        return new ProblemException(404, "Not here", detail);
    }

    /** Anything else that is refused. */
    public static ProblemException refused(int status, String title, String detail) {
        return new ProblemException(status, title, detail);
    }

    /** The defects of what was sent, each with the pointer to its place in it. */
    public static ProblemException defects(int status, String title, List<Defect> defects) {
        return new ProblemException(
                        status,
                        title,
                        defects.size() == 1
                                ? "One thing does not fit; nothing was stored."
                                : String.format(
                                        Locale.ROOT,
                                        "%,d things do not fit%s; nothing was stored.",
                                        defects.size(),
                                        defects.size() > TOLD
                                                ? String.format(Locale.ROOT, ", of which the first %,d are told", TOLD)
                                                : ""))
                .with("defects", DefectLine.of(defects.subList(0, Math.min(defects.size(), TOLD))));
    }

    /** The same with another member, which the description of problems lists. */
    public ProblemException with(String member, Object value) {
        details.more().put(member, value);
        return this;
    }

    /** The status of the answer. */
    public int status() {
        return details.status();
    }

    /** What is sent. */
    public Details details() {
        return details;
    }
}
