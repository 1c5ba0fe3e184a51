package leanladder.cli;

import java.util.List;
import leanladder.document.Defect;

/** Ends a command with sentences on standard error and an exit code. */
final class Refusal extends Exception {
    private static final long serialVersionUID = 1;
    private static final int WRONG_USE = 2;
    private static final int BAD_FILE = 3;

    private final int exitCode;
    private final transient List<String> lines;

    private Refusal(int exitCode, List<String> lines) {
        super(lines.get(0));
        this.exitCode = exitCode;
        this.lines = lines;
    }

    static Refusal wrongUse(String sentence) {
        return new Refusal(WRONG_USE, List.of(sentence));
    }

    static Refusal badFile(List<Defect> defects) {
        return new Refusal(BAD_FILE, defects.stream().map(Defect::line).toList());
    }

    static Refusal unreadable(String sentence) {
        return new Refusal(BAD_FILE, List.of(": " + sentence));
    }

    int exitCode() {
        return exitCode;
    }

    List<String> lines() {
        return lines;
    }
}
