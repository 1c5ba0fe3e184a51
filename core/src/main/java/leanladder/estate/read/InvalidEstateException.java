package leanladder.estate.read;

import java.util.List;
import leanladder.json.Defect;

/** Says that a file is not a valid estate, with every defect found. */
public final class InvalidEstateException extends Exception {
    private static final long serialVersionUID = 1;
    private final transient List<Defect> defects;

    public InvalidEstateException(List<Defect> defects) {
        super(
                defects.size() == 1
                        ? defects.get(0).line()
                        : defects.size() + " defects, first " + defects.get(0).line());
        this.defects = List.copyOf(defects);
    }

    /** At least one. */
    public List<Defect> defects() {
        return defects;
    }
}
