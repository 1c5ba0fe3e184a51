package leanladder.suite;

/** What was asked for cannot be done; the message is a sentence for the person who asked. */
final class HttpStatusException extends RuntimeException {
    private static final long serialVersionUID = 1L;
    private final int status;

    HttpStatusException(int status, String sentence) {
        super(sentence);
        this.status = status;
    }

    int status() {
        return status;
    }

    /** An answer of Lean Ladder that is none, handed on with its own sentence. */
    static HttpStatusException as(LeanLadderClient.Answer answer) {
        StringBuilder sentence = new StringBuilder(answer.body().path("detail").asText("Lean Ladder refuses it."));
        answer.body()
                .path("defects")
                .forEach(d -> sentence.append(' ').append(d.path("message").asText()));
        return new HttpStatusException(answer.status(), sentence.toString());
    }
}
