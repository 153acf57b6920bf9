#pragma once
#include "model/document/document.h"

namespace vicinal {

/// Named steps of a document, to go back and forth. Documents share what they have in common, so a step costs little.
class History {
public:
    explicit History(Document start = {}) : m_steps{{std::move(start), ""}} {}

    const Document& now() const { return m_steps[m_at].document; }
    /// Adds a step after the present one; steps that were undone are dropped. When `merge` is not empty and equal to
    /// that of the present step, the present step is replaced: a whole drag becomes one step.
    void push(Document, std::string name, std::string merge = {});
    /// Ends merging: the next push is a step of its own whatever its `merge`.
    void seal() { m_steps[m_at].merge.clear(); }

    bool canUndo() const { return m_at > 0; }
    bool canRedo() const { return m_at + 1 < m_steps.size(); }
    void undo() {
        if (canUndo()) --m_at, seal();
    }
    void redo() {
        if (canRedo()) ++m_at, seal();
    }
    /// Goes to a step by its index, 0 .. size() - 1.
    void goTo(size_t step);
    std::string undoName() const { return canUndo() ? m_steps[m_at].name : ""; }
    std::string redoName() const { return canRedo() ? m_steps[m_at + 1].name : ""; }

    size_t size() const { return m_steps.size(); }
    size_t index() const { return m_at; }
    const std::string& nameAt(size_t step) const { return m_steps[step].name; }

    void markSaved() { m_saved = m_steps[m_at].serial; }
    /// The step with this serial was saved (it need not be the present one any more); -1: none is.
    void markSaved(long serial) { m_saved = serial; }
    long serial() const { return m_steps[m_at].serial; }
    bool saved() const { return m_saved == m_steps[m_at].serial; }

private:
    struct Step {
        Document document;
        std::string name;
        std::string merge = {};
        long serial = 0;
    };
    std::vector<Step> m_steps;
    size_t m_at = 0;
    long m_serial = 0, m_saved = 0;
};

} // namespace vicinal
