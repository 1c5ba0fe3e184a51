package leanladder.cli;

import java.util.List;
import leanladder.json.Defect;

/** Ends a command with sentences on standard error and an exit code. */
final class CliException extends Exception {
    private static final long serialVersionUID = 1;
    private static final int WRONG_USE = 2;
    private static final int BAD_FILE = 3;

    private final int exitCode;
    private final transient List<String> lines;

    private CliException(int exitCode, List<String> lines) {
        super(lines.get(0));
        this.exitCode = exitCode;
        this.lines = lines;
    }

    static CliException wrongUse(String sentence) {
        return new CliException(WRONG_USE, List.of(sentence));
    }

    static CliException badFile(List<Defect> defects) {
        return new CliException(BAD_FILE, defects.stream().map(Defect::line).toList());
    }

    static CliException unreadable(String sentence) {
        return new CliException(BAD_FILE, List.of(": " + sentence));
    }

    int exitCode() {
        return exitCode;
    }

    List<String> lines() {
        return lines;
    }
}
