package leanladder.json;

import java.util.ArrayList;
import java.util.List;

/** Collects defects and warnings while a file is read; both keep the order in which they were found. */
public final class Defects {
    private final List<Defect> defects = new ArrayList<>();
    private final List<Defect> warnings = new ArrayList<>();

    public void add(String pointer, String message) {
        defects.add(new Defect(pointer, message));
    }

    public void warn(String pointer, String message) {
        warnings.add(new Defect(pointer, message));
    }

    /** Takes over what was found by itself. */
    public void add(Defects others) {
        defects.addAll(others.defects);
        warnings.addAll(others.warnings);
    }

    public boolean isEmpty() {
        return defects.isEmpty();
    }

    /** How many defects were found so far. */
    public int size() {
        return defects.size();
    }

    public List<Defect> all() {
        return List.copyOf(defects);
    }

    public List<Defect> warnings() {
        return List.copyOf(warnings);
    }
}
