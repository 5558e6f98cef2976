export default '<svg></svg>';
